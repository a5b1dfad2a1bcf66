/** Constructions to choose from; their U values are the server's. */
import type { Construction, Position } from "../api/client";
import { store } from "./store";

const CLASSES = { old: "Old buildings", ordinary: "Ordinary buildings", good: "Good buildings" } as const;

export function constructionsFor(positions: Position[]): { name: string; constructions: Construction[] }[] {
  const fits = (c: Construction) => positions.includes(c.position);
  const library = store.library.value?.constructions ?? [];
  return [
    { name: "This job", constructions: (store.job.value?.constructions ?? []).filter(fits) },
    ...Object.entries(CLASSES).map(([key, name]) => ({ name, constructions: library.filter((c) => c.class === key && fits(c)) })),
  ].filter((g) => g.constructions.length > 0);
}

export function construction(id: string | null | undefined): Construction | undefined {
  return store.job.value?.constructions.find((c) => c.id === id) ?? store.library.value?.constructions?.find((c) => c.id === id);
}

/** U in the place that a construction is made for, W/m²K. */
export function uOf(id: string): number | undefined {
  return store.design.value?.constructions.find((c) => c.id === id)?.u ?? store.library.value?.u_values?.[id];
}

/** Constructions that stand in for each other in a place. */
export const ALIKE: Record<Position, Position[]> = {
  wall: ["wall", "partition"],
  partition: ["partition", "wall"],
  roof: ["roof", "ceiling"],
  ceiling: ["ceiling", "floor"],
  floor: ["floor", "ceiling"],
  window: ["window"],
  door: ["door", "window"],
};
