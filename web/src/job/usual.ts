/** What things start with when they are added, by the core's library, in whole sizes of the job's units. */
import type { Floor, FloorLattice, OpeningKind, Room, Usual } from "../api/client";
import { clean, plain } from "./edit";
import { store } from "./store";

export const usual = (): Usual | undefined => store.library.value?.usual?.[store.job.value?.site.units ?? "metric"];
export const usualFloor = (): Floor | null => usual()?.floor ?? null;

/** Width, height and sill that an opening starts with, m. */
export function usualSize(kind: OpeningKind): [number, number, number] {
  const size = usual()?.openings.find((o) => o.kind === kind);
  return size ? [size.width_m, size.height_m, size.sill_m] : [1, 1, 0];
}

/** A use, and its design temperature as long as the room has that of the use before. */
export function setUse(room: Room, use: Room["use"]) {
  const temperature = (of: Room["use"]) => store.library.value?.uses?.find((u) => u.use === of)?.room_c;
  if (room.room_c === temperature(room.use)) room.room_c = temperature(use) ?? room.room_c;
  room.use = use;
}

/** A lattice as it usually begins: from the room's lower left corner. */
export function freshLattice(room: Room, kind: FloorLattice["kind"] | "none"): FloorLattice | undefined {
  const found = kind === "none" ? undefined : plain(usual()?.[kind]);
  const [x, y] = [0, 1].map((k) => Math.min(...room.outline.map((p) => p[k]!))) as [number, number];
  if (found?.kind === "squares") found.cross = [clean(x + found.side_m), clean(y + found.side_m)];
  if (found?.kind === "joists") found.one_m = found.along === "y" ? x : y;
  return found;
}
