/** Where the pointer means to be: corners and walls of rooms (and a wall's thickness off them), else the grid. */
import type { Job, Point, Units } from "../api/client";
import { clean, walls, type WallLine } from "../job/edit";

/** Usual thickness of a partition, m: the next room starts that far off. */
export const PARTITION_M = 0.12;

/** Grid of the unit system, m. */
const GRID_M = { metric: 0.05, us: 0.0254 };
/** A length on the grid. */
export const snapStep = (m: number, units: Units): number => clean(Math.round(m / GRID_M[units]) * GRID_M[units]);

export interface Snapped {
  at: Point;
  /** Lines that were met, to be shown. */
  x: number | null;
  y: number | null;
}

export function snap(job: Job, p: Point, reach: number, units: Units, without?: string, others: Point[] = []): Snapped {
  const lines: [Set<number>, Set<number>] = [new Set(), new Set()];
  for (const room of job.rooms) {
    if (room.id === without) continue;
    for (const corner of room.outline)
      for (const k of [0, 1] as const) for (const off of [0, PARTITION_M, -PARTITION_M]) lines[k].add(clean(corner[k] + off));
  }
  for (const p of others) for (const k of [0, 1] as const) lines[k].add(p[k]);
  const meet = (k: 0 | 1) => {
    let best: number | null = null;
    for (const v of lines[k]) if (Math.abs(v - p[k]) < reach && (best === null || Math.abs(v - p[k]) < Math.abs(best - p[k]))) best = v;
    return best;
  };
  const [x, y] = [meet(0), meet(1)];
  return { at: [x ?? snapStep(p[0], units), y ?? snapStep(p[1], units)], x, y };
}

export interface NearWall {
  room: string;
  wall: WallLine;
  /** Metres from the wall's start to the foot of the point. */
  along: number;
  distance: number;
}

/** The wall nearest to a point; where two rooms share one, the room in which the point lies wins. */
export function nearestWall(job: Job, p: Point, reach: number): NearWall | null {
  let best: NearWall | null = null;
  for (const room of job.rooms)
    for (const wall of walls(room)) {
      const [dx, dy] = [p[0] - wall.a[0], p[1] - wall.a[1]];
      const along = dx * wall.along[0] + dy * wall.along[1];
      if (along < 0 || along > wall.length) continue;
      const off = dx * wall.out[0] + dy * wall.out[1];
      // a point inside counts as a little nearer than one outside
      const distance = Math.abs(off) + (off > 0 ? 0.02 : 0);
      if (distance < reach && (!best || distance < best.distance)) best = { room: room.id, wall, along, distance };
    }
  return best;
}
