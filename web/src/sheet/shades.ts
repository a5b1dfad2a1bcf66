/** Rooms shaded by a figure, on one scale for all levels so that they can be compared. */
import { computed } from "vue";
import type { RoomDesign } from "../api/client";
import { store } from "../job/store";
import { show, type Quantity } from "../units";

const STEPS = 6;
const shade = (t: number) => `color-mix(in oklab, var(--floor), #cf6a3a ${Math.round(8 + 52 * t)}%)`;

/** `of`: the figure of a room, null where it has none. */
export function useShades(quantity: Quantity, of: (room: RoomDesign) => number | null) {
  const values = computed(() => (store.design.value?.rooms ?? []).flatMap((r) => {
    const value = of(r);
    return value === null ? [] : [{ id: r.id, value }];
  }));
  const range = computed(() => [Math.min(...values.value.map((v) => v.value)), Math.max(...values.value.map((v) => v.value))] as const);
  const shades = computed(() => {
    const [low, high] = range.value;
    return Object.fromEntries(values.value.map((v) => [v.id, shade(high > low ? (v.value - low) / (high - low) : 0.5)]));
  });
  const legend = computed(() =>
    values.value.length
      ? { low: show(quantity, range.value[0], store.units.value), high: show(quantity, range.value[1], store.units.value), colours: Array.from({ length: STEPS }, (_, n) => shade((n + 0.5) / STEPS)) }
      : null,
  );
  return { shades, legend };
}
