/** Edits of a job: each changes a draft in place. Geometry of drawing only; the trade's sums are the server's. */
import type { Beyond, Job, KeepOut, Manifold, Opening, OpeningKind, Point, Room } from "../api/client";

/** Snaps to a tenth of a millimetre, so that typed and drawn sizes stay clean. */
export const clean = (v: number) => Math.round(v * 1e4) / 1e4;
const cleanPoint = (p: Point): Point => [clean(p[0]), clean(p[1])];

/** A new id of that kind, unused in the job. */
export function newId(job: Job, kind: string): string {
  const used = new Set(job.rooms.flatMap((r) => [r.id, ...r.openings.map((o) => o.id), ...r.keep_outs.map((k) => k.id)]));
  job.manifolds.forEach((m) => used.add(m.id));
  for (let n = 1; ; n++) if (!used.has(`${kind}-${n}`)) return `${kind}-${n}`;
}

export const roomOf = (job: Job, id: string) => job.rooms.find((r) => r.id === id);

export interface WallLine {
  edge: number;
  a: Point;
  b: Point;
  length: number;
  /** Unit vector from a to b. */
  along: Point;
  /** Unit vector out of the room. */
  out: Point;
}

export function area(outline: Point[]): number {
  return outline.reduce((sum, p, i) => {
    const q = outline[(i + 1) % outline.length]!;
    return sum + (p[0] * q[1] - q[0] * p[1]) / 2;
  }, 0);
}

export function walls(room: Room): WallLine[] {
  const turn = area(room.outline) < 0 ? -1 : 1;
  return room.outline.map((a, edge) => {
    const b = room.outline[(edge + 1) % room.outline.length]!;
    const length = Math.hypot(b[0] - a[0], b[1] - a[1]);
    const along: Point = length > 0 ? [(b[0] - a[0]) / length, (b[1] - a[1]) / length] : [0, 0];
    return { edge, a, b, length, along, out: [along[1] * turn, -along[0] * turn] };
  });
}

/** "south wall" and so on, by where the wall looks. */
export function wallName(wall: WallLine): string {
  const [x, y] = wall.out;
  const side = Math.abs(x) > Math.abs(y) ? (x > 0 ? "east" : "west") : y > 0 ? "north" : "south";
  return `${side} wall`;
}

/** Floor, spacing and temperatures of the room drawn before are the likeliest for the next one. */
export function addRoom(job: Job, outline: Point[]): string {
  const last = job.rooms.at(-1);
  const id = newId(job, "room");
  job.rooms.push({
    id,
    name: `Room ${job.rooms.length + 1}`,
    level_id: job.levels[0]!.id,
    use: last?.use ?? "living",
    outline: outline.map(cleanPoint),
    height_m: last?.height_m ?? 2.5,
    room_c: last?.room_c ?? 20,
    air_changes_per_h: last?.air_changes_per_h ?? 0.5,
    above: last?.above ?? { kind: "outside" },
    below: last?.below ?? { kind: "ground" },
    walls: [],
    openings: [],
    keep_outs: [],
    floor: last?.floor ?? {
      build_up_id: "slab",
      covering_id: "tile",
      tube_id: job.site.units === "us" ? "pex-1/2" : "pex-16x2",
      spacing_core_m: 0.2,
      spacing_edge_m: 0.2,
      pattern: "auto",
    },
  });
  return id;
}

export const rectangle = (a: Point, b: Point): Point[] => {
  const [x0, x1] = [Math.min(a[0], b[0]), Math.max(a[0], b[0])];
  const [y0, y1] = [Math.min(a[1], b[1]), Math.max(a[1], b[1])];
  return [[x0, y0], [x1, y0], [x1, y1], [x0, y1]];
};

/** The rectangle a–b less the part between `notch` and the corner nearest to it. */
export function lShape(a: Point, b: Point, notch: Point): Point[] {
  const box = rectangle(a, b);
  const [x0, y0] = box[0]!;
  const [x1, y1] = box[2]!;
  const x = Math.min(Math.max(notch[0], x0 + 0.1), x1 - 0.1);
  const y = Math.min(Math.max(notch[1], y0 + 0.1), y1 - 0.1);
  const right = x - x0 > x1 - x;
  const top = y - y0 > y1 - y;
  if (right && top) return [[x0, y0], [x1, y0], [x1, y], [x, y], [x, y1], [x0, y1]];
  if (right) return [[x0, y0], [x, y0], [x, y], [x1, y], [x1, y1], [x0, y1]];
  if (top) return [[x0, y0], [x1, y0], [x1, y1], [x, y1], [x, y], [x0, y]];
  return [[x, y0], [x1, y0], [x1, y1], [x0, y1], [x0, y], [x, y]];
}

/** Moves a wall sideways by `by` metres (outward positive); its neighbours stretch, what hangs on them stays put. */
export function moveWall(job: Job, roomId: string, edge: number, by: number) {
  const room = roomOf(job, roomId);
  const wall = room && walls(room)[edge];
  if (!room || !wall) return;
  const n = room.outline.length;
  const next = (edge + 1) % n;
  const before = walls(room)[next]!.length;
  for (const k of [edge, next]) {
    const p = room.outline[k]!;
    room.outline[k] = cleanPoint([p[0] + wall.out[0] * by, p[1] + wall.out[1] * by]);
  }
  // the next wall starts at a moved corner: offsets on it count from there
  shift(job, room, next, walls(room)[next]!.length - before);
}

function shift(job: Job, room: Room, edge: number, change: number) {
  const shifted = (offset: number) => clean(Math.max(0, offset + change));
  for (const o of room.openings) if (o.edge === edge) o.offset_m = shifted(o.offset_m);
  for (const m of job.manifolds) if (m.room_id === room.id && m.edge === edge) m.offset_m = shifted(m.offset_m);
}

/** Moves a corner; square rooms stay square because both walls at it move along. */
export function moveCorner(job: Job, roomId: string, corner: number, to: Point) {
  const room = roomOf(job, roomId);
  const at = room?.outline[corner];
  if (!room || !at) return;
  const n = room.outline.length;
  for (const edge of [(corner + n - 1) % n, corner]) {
    const wall = walls(room)[edge]!;
    moveWall(job, roomId, edge, (to[0] - at[0]) * wall.out[0] + (to[1] - at[1]) * wall.out[1]);
  }
}

/** Gives a wall a length by moving the wall after it. */
export function setWallLength(job: Job, roomId: string, edge: number, length: number) {
  const room = roomOf(job, roomId);
  if (!room) return;
  const lines = walls(room);
  const next = lines[(edge + 1) % lines.length]!;
  const wall = lines[edge]!;
  const side = Math.sign(wall.along[0] * next.out[0] + wall.along[1] * next.out[1]);
  moveWall(job, roomId, next.edge, (length - wall.length) * side);
}

export function moveRoom(job: Job, roomId: string, by: Point) {
  const room = roomOf(job, roomId);
  if (!room) return;
  room.outline = room.outline.map((p) => cleanPoint([p[0] + by[0], p[1] + by[1]]));
  for (const k of room.keep_outs) moveKeepOut(k, by);
}

export function moveKeepOut(k: KeepOut, by: Point) {
  k.x0_m = clean(k.x0_m + by[0]);
  k.x1_m = clean(k.x1_m + by[0]);
  k.y0_m = clean(k.y0_m + by[1]);
  k.y1_m = clean(k.y1_m + by[1]);
}

/** Width and height that an opening starts with, m. */
export const USUAL_SIZE: Record<OpeningKind, [number, number]> = {
  window: [1.2, 1.2],
  outside_door: [1, 2.1],
  doorway: [0.9, 2.05],
  sleeve: [0.5, 0.1],
};

/** Puts an opening with its middle at `at` metres from the wall's start, kept within the wall where it fits. */
export function addOpening(
  job: Job,
  roomId: string,
  edge: number,
  at: number,
  opening: Pick<Opening, "kind" | "width_m" | "height_m">,
): string | null {
  const room = roomOf(job, roomId);
  const wall = room && walls(room)[edge];
  if (!room || !wall) return null;
  const id = newId(job, "opening");
  const offset = Math.max(0, Math.min(at - opening.width_m / 2, wall.length - opening.width_m));
  room.openings.push({ id, edge, offset_m: clean(offset), ...opening });
  return id;
}

export function addKeepOut(job: Job, roomId: string, a: Point, b: Point): string | null {
  const room = roomOf(job, roomId);
  if (!room) return null;
  const [p, , q] = rectangle(a, b);
  const id = newId(job, "keep-out");
  room.keep_outs.push({
    id,
    kind: "cabinet",
    name: "",
    x0_m: clean(p![0]),
    y0_m: clean(p![1]),
    x1_m: clean(q![0]),
    y1_m: clean(q![1]),
    clearance_m: 0.05,
  });
  return id;
}

export function addManifold(job: Job, roomId: string, edge: number, offset: number): string {
  const id = newId(job, "manifold");
  const used = new Set(job.manifolds.map((m) => m.letter));
  const letter = [..."ABCDEFGHIJKLMNOPQRSTUVWXYZ"].find((l) => !used.has(l)) ?? "Z";
  job.manifolds.push({ id, letter, room_id: roomId, edge, offset_m: clean(Math.max(0, offset)), ports: 8 });
  return id;
}

export function setBeyond(room: Room, edge: number, beyond: Beyond | undefined) {
  const wall = room.walls.find((w) => w.edge === edge);
  if (wall) {
    wall.beyond = beyond;
    if (!beyond && wall.u === undefined) room.walls = room.walls.filter((w) => w !== wall);
  } else if (beyond) room.walls.push({ edge, beyond });
}

export function setWallU(room: Room, edge: number, u: number | undefined) {
  const wall = room.walls.find((w) => w.edge === edge);
  if (wall) wall.u = u;
  else if (u !== undefined) room.walls.push({ edge, u });
}

/** Takes a thing out of the job, with what hangs on it. */
export function remove(job: Job, kind: string, id: string) {
  if (kind === "room") {
    job.rooms = job.rooms.filter((r) => r.id !== id);
    job.manifolds = job.manifolds.filter((m) => m.room_id !== id);
  }
  if (kind === "manifold") job.manifolds = job.manifolds.filter((m) => m.id !== id);
  for (const r of job.rooms) {
    if (kind === "opening") r.openings = r.openings.filter((o) => o.id !== id);
    if (kind === "keep_out") r.keep_outs = r.keep_outs.filter((k) => k.id !== id);
  }
}

export type { Beyond, Job, KeepOut, Manifold, Opening, Point, Room };
