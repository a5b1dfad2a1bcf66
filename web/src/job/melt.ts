/** Areas outdoors: what each is to be. */
import type { Job, Melt } from "../api/client";
import { roomOf } from "./edit";

/** What is usual for a use: as the core has it for an area of which the job says nothing. */
export const usualMelt = (use: Melt["use"]): Melt => {
  const [free_area_ratio, may_lie_mm] = use === "house" ? [0.5, 3] : use === "public" ? [0.5, 1] : [1, 0];
  return { use, free_area_ratio, may_lie_mm, slope: 0.02 };
};

export const meltOf = (room: { melt?: Melt | null }): Melt => room.melt ?? usualMelt("house");

/** Another use brings its usual class; how the surface falls is as it was. */
export function setMeltUse(job: Job, id: string, use: Melt["use"]) {
  const room = roomOf(job, id);
  if (room) room.melt = { ...usualMelt(use), slope: meltOf(room).slope };
}

export function setMelt(job: Job, id: string, values: Partial<Melt>) {
  const room = roomOf(job, id);
  if (room) room.melt = { ...meltOf(room), ...values };
}
