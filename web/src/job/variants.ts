/** Layouts to compare: the job with other patterns, spacings or limits. */
import type { Job } from "../api/client";
import { plain } from "./edit";

/** What a variant changes; what is left out stays as the job has it. */
export interface Variant {
  pattern?: "auto" | "serpentine" | "double_serpentine" | "counterflow";
  /** Spacing of core and edge alike, m. */
  spacing_m?: number;
  /** Longest loop of every tube, m. */
  limit_m?: number;
  equal?: boolean;
}

/** The job as the variant wants it. Locked loops stay where they lie. */
export function varied(job: Job, v: Variant, tubes: string[]): Job {
  const out = plain(job);
  for (const room of out.rooms) {
    if (!room.floor) continue;
    if (v.pattern) room.floor.pattern = v.pattern;
    if (v.spacing_m) room.floor.spacing_core_m = room.floor.spacing_edge_m = v.spacing_m;
  }
  if (v.limit_m) for (const id of tubes) out.rules.longest_loop_m[id] = v.limit_m;
  if (v.equal !== undefined) out.rules.equal_loops = v.equal;
  return out;
}
