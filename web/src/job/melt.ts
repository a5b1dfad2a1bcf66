/** Areas outdoors: what each is to be. */
import type { Job, Melt } from "../api/client";
import { roomOf } from "./edit";
import { usual } from "./usual";

/** What is usual for a use: as the core has it for an area of which the job says nothing. */
const usualMelt = (use: Melt["use"]): Melt => ({ ...(usual()?.melts.find((m) => m.use === use) ?? { use, free_area_ratio: 0, may_lie_mm: 0, slope: 0 }) });

export const meltOf = (room: { melt?: Melt | null }): Melt => room.melt ?? usualMelt("house");

/** Another use brings its usual class; how the surface falls is as it was. */
export function setMeltUse(job: Job, id: string, use: Melt["use"]) {
  const room = roomOf(job, id);
  // before the library is there nothing is usual: nothing is written
  if (room && usual()) room.melt = { ...usualMelt(use), slope: meltOf(room).slope };
}

export function setMelt(job: Job, id: string, values: Partial<Melt>) {
  const room = roomOf(job, id);
  if (room && (room.melt || usual())) room.melt = { ...meltOf(room), ...values };
}
