/** Numbered places on the plan that a list beside it speaks of. */
import { shallowRef } from "vue";
import type { Point } from "../api/client";

export interface Pin {
  text: string;
  level_id: string;
  at: Point;
}
export const pins = shallowRef<Pin[]>([]);
