/** Layouts to compare: the job with other patterns, spacings or limits, and the figures that tell them apart. */
import type { Design, Job } from "../api/client";
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

export interface LayoutFigures {
  loops: number;
  tube: number;
  leaders: number;
  shortest: number;
  longest: number;
  spread: number;
  of_limit: number;
  bends: number;
  /** Quarter turns over those of ideal serpentines on the same floors. */
  of_ideal: number;
  jogs: number;
  /** Share of the tube in straights of a metre and more. */
  straight: number;
  coverage: number | null;
  farthest: number | null;
  warmest: number | null;
  striping: number | null;
  supply: number | null;
  flow: number;
  head: number;
  errors: number;
  warnings: number;
}

const sum = (list: number[]) => list.reduce((a, b) => a + b, 0);

/** A design in the figures by which layouts are judged. */
export function figuresOf(design: Design): LayoutFigures {
  const lengths = design.loops.map((l) => l.length_m);
  const most = (list: (number | null | undefined)[]) => {
    const known = list.filter((v): v is number => typeof v === "number");
    return known.length ? Math.max(...known) : null;
  };
  const covered = design.rooms.filter((r) => typeof r.coverage === "number");
  const area = covered.reduce((a, r) => a + r.heatable_area_m2, 0);
  return {
    loops: lengths.length,
    tube: design.totals.tube_m,
    leaders: design.loops.reduce((a, l) => a + l.leader_length_m, 0),
    shortest: lengths.length ? Math.min(...lengths) : 0,
    longest: lengths.length ? Math.max(...lengths) : 0,
    spread: most(design.manifolds.map((m) => m.spread)) ?? 0,
    of_limit: most(design.manifolds.map((m) => m.of_limit)) ?? 0,
    bends: sum(design.loops.map((l) => l.quarter_turns)),
    of_ideal: sum(design.loops.map((l) => l.quarter_turns)) / Math.max(design.totals.ideal_turns, 1),
    jogs: sum(design.loops.map((l) => l.jogs)) / Math.max(lengths.length, 1),
    straight: sum(design.loops.map((l) => l.straight_m)) / Math.max(sum(lengths), 1e-9),
    coverage: area > 0 ? covered.reduce((a, r) => a + r.coverage! * r.heatable_area_m2, 0) / area : null,
    farthest: most(design.rooms.map((r) => r.coldest?.distance_m)),
    warmest: most(design.rooms.map((r) => r.warmest?.surface_c)),
    striping: most(design.rooms.map((r) => r.striping_k)),
    supply: design.totals.supply_c ?? null,
    flow: design.totals.flow_l_min,
    head: most(design.manifolds.map((m) => m.head_needed_pa)) ?? 0,
    errors: design.findings.filter((f) => f.severity === "error").length,
    warnings: design.findings.filter((f) => f.severity === "warning").length,
  };
}
