/** Remedies of the layout, taken. */
import type { Finding, Job, LayoutRemedy, Room } from "../../api/client";
import { plain } from "../../job/edit";

/** Findings about a room for which the core looks for ways out. */
const HELPED = new Set(["loops.no_way", "loops.blocked", "loops.narrow", "loops.tight", "loops.too_small", "loops.leader_too_long", "loops.over_limit", "loops.by_leaders"]);

/** The room that a finding wants help for. */
export function helpedRoom(f: Finding): string | undefined {
  return HELPED.has(f.code) && f.severity !== "note" && f.subject.kind === "room" ? f.subject.id : undefined;
}

/** Puts the rooms and manifolds of a remedy in the place of the job's. */
export function takeRemedy(job: Job, remedy: LayoutRemedy) {
  for (const room of remedy.rooms) {
    const at = job.rooms.findIndex((r) => r.id === room.id);
    if (at >= 0) job.rooms[at] = plain(room) as Room;
  }
  for (const manifold of remedy.manifolds) {
    const at = job.manifolds.findIndex((m) => m.id === manifold.id);
    if (at >= 0) job.manifolds[at] = plain(manifold);
    else job.manifolds.push(plain(manifold));
  }
  if (remedy.share_below_m != null) job.rules.share_below_m = remedy.share_below_m;
}
