/** Edits of locked loops: each changes a draft in place. Where tube comes to lie after a drag is the server's to say. */
import type { Design, Job, KeptLoop, LoopDesign, Point } from "../api/client";
import { clean, newId } from "./edit";

export const kept = (job: Job): KeptLoop[] => job.loops ?? [];
export const keptOf = (job: Job, id: string) => kept(job).find((l) => l.id === id);

/** Keeps loops of the design as they lie. Returns the new id of each by its old one. */
export function lock(job: Job, loops: LoopDesign[]): Map<string, string> {
  const ids = new Map<string, string>();
  for (const l of loops) {
    if (l.locked) {
      ids.set(l.id, l.id);
      continue;
    }
    const id = newId(job, "loop");
    ids.set(l.id, id);
    job.loops = [
      ...kept(job),
      { id, manifold_id: l.manifold_id, port: l.port, room_id: l.room_ids[0]!, ...(l.room_ids.length > 1 ? { also_room_ids: l.room_ids.slice(1) } : {}), corners: l.corners.map((p) => [p[0], p[1]] as Point), leaders_m: clean(l.leader_length_m) },
    ];
  }
  return ids;
}

/** Gives loops back to the layout. */
export function unlock(job: Job, ids: string[]) {
  job.loops = kept(job).filter((l) => !ids.includes(l.id));
}

/** Turns the way the water goes, so that the other end is the hot one. */
export function reverse(job: Job, id: string) {
  const l = keptOf(job, id);
  if (l) {
    l.corners = [...l.corners].reverse();
    l.by_hand = true;
  }
}

/** Gives a loop another port; the loop that has it gets this one's. Both must be kept. */
export function toPort(job: Job, id: string, port: number) {
  const l = keptOf(job, id);
  if (!l || l.port === port) return;
  const other = kept(job).find((o) => o.manifold_id === l.manifold_id && o.port === port);
  if (other) [other.port, other.by_hand] = [l.port, true];
  [l.port, l.by_hand] = [port, true];
}

/** Puts a loop where it was dragged or drawn. */
export function reshape(job: Job, id: string, corners: Point[]) {
  const l = keptOf(job, id);
  if (l) [l.corners, l.by_hand] = [corners.map((p) => [clean(p[0]), clean(p[1])]), true];
}

/** Whether a locked loop is there and has just those corners. */
export function liesAt(job: Job, id: string, corners: Point[]): boolean {
  const l = keptOf(job, id);
  return l !== undefined && JSON.stringify(l.corners) === JSON.stringify(corners);
}

/** A loop drawn point by point, at the first port that is free. Returns its id, or null when the manifold is full. */
export function addDrawn(job: Job, design: Design | null, manifold_id: string, room_id: string, corners: Point[]): string | null {
  const m = job.manifolds.find((x) => x.id === manifold_id);
  if (!m || corners.length < 2) return null;
  const taken = new Set(kept(job).filter((l) => l.manifold_id === manifold_id).map((l) => l.port));
  const used = new Set((design?.loops ?? []).filter((l) => l.manifold_id === manifold_id).map((l) => l.port));
  const ports = Array.from({ length: 24 }, (_, i) => i + 1);
  // an automatic loop makes room; a free port is better
  const port = ports.find((p) => p <= m.ports && !used.has(p) && !taken.has(p)) ?? ports.find((p) => !taken.has(p));
  if (port === undefined) return null;
  const id = newId(job, "loop");
  job.loops = [...kept(job), { id, manifold_id, port, room_id, corners: corners.map((p) => [clean(p[0]), clean(p[1])]), leaders_m: 0, by_hand: true }];
  return id;
}

/** Runs of a route: straight from corner to corner. */
export interface Run {
  index: number;
  a: Point;
  b: Point;
  length: number;
}
export function runs(corners: Point[]): Run[] {
  return corners.slice(1).map((b, index) => ({ index, a: corners[index]!, b, length: Math.hypot(b[0] - corners[index]![0], b[1] - corners[index]![1]) }));
}

/** The run nearest to a point, within reach. */
export function nearestRun(corners: Point[], p: Point, reach: number): Run | null {
  let best: Run | null = null;
  let least = reach;
  for (const r of runs(corners)) {
    const [dx, dy] = [(r.b[0] - r.a[0]) / (r.length || 1), (r.b[1] - r.a[1]) / (r.length || 1)];
    const along = Math.min(r.length, Math.max(0, (p[0] - r.a[0]) * dx + (p[1] - r.a[1]) * dy));
    const off = Math.hypot(p[0] - r.a[0] - dx * along, p[1] - r.a[1] - dy * along);
    if (off < least) [best, least] = [r, off];
  }
  return best;
}

/**
 * Where the next corner of a drawn loop means to be: on the room's lattice (the first tube `clear` from its lower left
 * corner, then every `spacing`), and square to the corner before where that is nearly meant.
 */
export function onLattice(p: Point, origin: Point, clear: number, spacing: number, before: Point | undefined, reach: number): Point {
  const even = (v: number, o: number) => o + clear + Math.round((v - o - clear) / spacing) * spacing;
  const at: Point = [even(p[0], origin[0]), even(p[1], origin[1])];
  if (before) for (const k of [0, 1] as const) if (Math.abs(p[k] - before[k]) < reach) at[k] = before[k];
  return [clean(at[0]), clean(at[1])];
}
