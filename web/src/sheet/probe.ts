/** Where the pointer is on the plan: for what reads a picture there. */
import { useEventListener } from "@vueuse/core";
import { ref } from "vue";
import type { Point } from "../api/client";
import type { Raster } from "./isolines";
import type { View } from "./view";

export function useProbe(view: View) {
  const at = ref<Point | null>(null);
  useEventListener(document, "pointermove", (e: PointerEvent) => {
    const plan = (e.target as Element | null)?.closest?.("svg.plan");
    if (!plan) return void (at.value = null);
    const frame = plan.getBoundingClientRect();
    at.value = view.toPlan([e.clientX - frame.left, e.clientY - frame.top]);
  });
  return at;
}

/** The place on a raster at which a point lies. */
export function placeOf(raster: Raster, at: Point | null): number | null {
  if (!at) return null;
  const [i, j] = [0, 1].map((k) => Math.floor((at[k]! - raster.origin[k]!) / raster.step_m)) as [number, number];
  return i < 0 || j < 0 || i >= raster.columns || j >= raster.rows ? null : j * raster.columns + i;
}
