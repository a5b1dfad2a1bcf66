/** Edits of a job: each changes a draft in place. Geometry of drawing only; the trade's sums are the server's. */
import type { Beyond, Emitter, Floor, Job, KeepOut, Manifold, Mark, Opening, Point, Room, Slope, Wall } from "../api/client";

/** Snaps to a tenth of a millimetre, so that typed and drawn sizes stay clean. */
export const clean = (v: number) => Math.round(v * 1e4) / 1e4;
const cleanPoint = (p: Point): Point => [clean(p[0]), clean(p[1])];

/** A new id of that kind, unused in the job. */
export function newId(job: Job, kind: string): string {
  const used = new Set(job.rooms.flatMap((r) => [r, ...r.openings, ...r.keep_outs, ...(r.emitters ?? []), ...(r.fields ?? [])].map((x) => x.id)));
  [...job.manifolds, ...(job.loops ?? []), ...(job.marks ?? []), ...(job.circuits ?? []), ...(job.plant?.users ?? []), ...job.constructions, ...job.materials, ...job.build_ups, ...(job.tubes ?? []), ...(job.coverings ?? []), ...(job.pumps ?? []), ...(job.purchasing?.quote?.extras ?? []), ...(job.purchasing?.quote?.options ?? [])].forEach((m) => used.add(m.id));
  for (let n = 1; ; n++) if (!used.has(`${kind}-${n}`)) return `${kind}-${n}`;
}

/** A copy with nothing shared, of a draft too. */
export const plain = <T>(value: T): T => (value === undefined ? value : (JSON.parse(JSON.stringify(value)) as T));

export const roomOf = (job: Job, id: string) => job.rooms.find((r) => r.id === id);

/** Whether a point lies within an outline. */
export function inside(outline: Point[], p: Point): boolean {
  let odd = false;
  outline.forEach((a, i) => {
    const b = outline[(i + 1) % outline.length]!;
    if (a[1] > p[1] !== b[1] > p[1] && p[0] < ((b[0] - a[0]) * (p[1] - a[1])) / (b[1] - a[1]) + a[0]) odd = !odd;
  });
  return odd;
}

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

const COMPASS = ["north", "north-east", "east", "south-east", "south", "south-west", "west", "north-west"];

/** "south wall" and so on, by where the wall looks; `north` is clockwise from the top of the plan, degrees. */
export function wallName(wall: WallLine, north = 0): string {
  const bearing = (Math.atan2(wall.out[0], wall.out[1]) * 180) / Math.PI - north;
  return `${COMPASS[((Math.round(bearing / 45) % 8) + 8) % 8]} wall`;
}

/** "west" and so on: the end of a wall from which distances on it count. */
export function startName(wall: WallLine, north = 0): string {
  const bearing = (Math.atan2(-wall.along[0], -wall.along[1]) * 180) / Math.PI - north;
  return COMPASS[((Math.round(bearing / 45) % 8) + 8) % 8]!;
}

/** A floor like those that the job has, or as its first room is to have it, or as floors usually are. */
export const likelyFloor = (job: Job, usual: Floor | null): Floor | null => plain(job.rooms.find((r) => r.floor)?.floor ?? job.first_room?.floor ?? usual);

/** Floor, spacing and temperatures of the room drawn before are the likeliest for the next one. */
export function addRoom(job: Job, outline: Point[], level = job.levels[0]!.id, usualFloor: Floor | null = null): string {
  const heated = job.rooms.filter((r) => !r.unheated);
  const last = heated.filter((r) => r.level_id === level).at(-1) ?? heated.at(-1);
  const first = job.first_room;
  const lowest = [...job.levels].sort((a, b) => (a.floor_m ?? 0) - (b.floor_m ?? 0))[0]!.id;
  const id = newId(job, "room");
  // a copy: two rooms that share an object would change together ever after
  const alike = plain<Partial<Room>>({ above: last?.above, below: last?.level_id === level ? last.below : undefined, floor: last?.floor });
  job.rooms.push({
    id,
    name: `${job.outdoors ? "Area" : "Room"} ${job.rooms.length + 1}`,
    level_id: level,
    use: last?.use ?? first?.use ?? "living",
    outline: outline.map(cleanPoint),
    height_m: last?.height_m ?? first?.height_m ?? 2.5,
    room_c: last?.room_c ?? first?.room_c ?? 20,
    air_changes_per_h: last?.air_changes_per_h,
    above: alike.above ?? { kind: "outside" },
    // what lies below a room upstairs is found from the plan; the rest of its floor hangs over the outside
    below: alike.below ?? (level === lowest ? (plain(first?.below) ?? { kind: "ground" }) : { kind: "outside" }),
    walls: [],
    openings: [],
    keep_outs: [],
    floor: last ? alike.floor : likelyFloor(job, usualFloor),
    ...(job.outdoors && last?.melt ? { melt: plain(last.melt) } : {}),
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

/** Two faces this far apart at most are the two sides of one wall, m: as the core sees it. */
const THICKEST_WALL_M = 0.6;

/**
 * Walls of other rooms on the level that are the other side of this one, and the other sides of those: all of them
 * stand in one line and move together.
 */
export function sharedWalls(job: Job, roomId: string, edge: number): { room: Room; wall: WallLine }[] {
  const start = roomOf(job, roomId);
  const first = start && walls(start)[edge];
  if (!start || !first) return [];
  const all = job.rooms.filter((r) => r.level_id === start.level_id).flatMap((room) => walls(room).map((wall) => ({ room, wall })));
  const found = [{ room: start, wall: first }];
  for (let i = 0; i < found.length; i++) {
    const { room, wall } = found[i]!;
    for (const other of all) {
      if (other.room === room || found.some((f) => f.room === other.room && f.wall.edge === other.wall.edge)) continue;
      const w = other.wall;
      const facing = w.out[0] * wall.out[0] + w.out[1] * wall.out[1] < -0.999;
      const gap = (w.a[0] - wall.a[0]) * wall.out[0] + (w.a[1] - wall.a[1]) * wall.out[1];
      const along = (p: Point) => (p[0] - wall.a[0]) * wall.along[0] + (p[1] - wall.a[1]) * wall.along[1];
      const [s, t] = [along(w.a), along(w.b)].sort((a, b) => a - b) as [number, number];
      const overlap = Math.min(t, wall.length) - Math.max(s, 0);
      if (facing && gap > -1e-6 && gap < THICKEST_WALL_M && overlap > 0.05) found.push(other);
    }
  }
  return found;
}

/** What is left of a wall or between two rooms when a wall is pushed against it, m. */
const LEAST_WALL_M = 0.1;
const LEAST_PARTITION_M = 0.05;

/**
 * Moves a wall sideways by `by` metres (outward positive); its neighbours stretch, what hangs on them stays put. The
 * other side of a partition moves along, unless the wall is moved alone. It stops before it would turn a room inside out
 * or run into another: what stopped it is answered, in words.
 */
export function moveWall(job: Job, roomId: string, edge: number, by: number, alone = false): string {
  const moved = alone ? sharedWalls(job, roomId, edge).slice(0, 1) : sharedWalls(job, roomId, edge);
  const out = moved[0]?.wall.out;
  if (!out) return "";
  let step = by;
  let stopped = "";
  for (const { room, wall } of moved) {
    const side = wall.out[0] * out[0] + wall.out[1] * out[1] > 0 ? 1 : -1;
    const [least, most, by] = travel(job, room, wall, moved);
    const within = Math.min(Math.max(step * side, least), most) * side;
    if (Math.abs(within) < Math.abs(step) - 1e-6) [step, stopped] = [within, `Stopped by ${by || room.name}.`];
  }
  for (const { room, wall } of moved) moveOne(job, room, wall, wall.out[0] * out[0] + wall.out[1] * out[1] > 0 ? step : -step);
  return stopped;
}

/** How far a wall can go, inward (negative) and outward, and the room that stops it outward. */
function travel(job: Job, room: Room, wall: WallLine, moved: { room: Room; wall: WallLine }[]): [number, number, string] {
  const lines = walls(room);
  const n = lines.length;
  let [least, most, by] = [-Infinity, Infinity, ""];
  // a wall beside it is not shortened to nothing
  for (const far of [lines[(wall.edge + n - 1) % n]!.a, lines[(wall.edge + 1) % n]!.b]) {
    const d = (far[0] - wall.a[0]) * wall.out[0] + (far[1] - wall.a[1]) * wall.out[1];
    if (d > 1e-6) most = Math.min(most, Math.max(0, d - LEAST_WALL_M));
    else if (d < -1e-6) least = Math.max(least, Math.min(0, d + LEAST_WALL_M));
  }
  for (const other of job.rooms) {
    if (other === room || other.level_id !== room.level_id) continue;
    for (const w of walls(other)) {
      if (moved.some((m) => m.room === other && m.wall.edge === w.edge)) continue;
      const facing = w.out[0] * wall.out[0] + w.out[1] * wall.out[1] < -0.999;
      const gap = (w.a[0] - wall.a[0]) * wall.out[0] + (w.a[1] - wall.a[1]) * wall.out[1];
      const along = (p: Point) => (p[0] - wall.a[0]) * wall.along[0] + (p[1] - wall.a[1]) * wall.along[1];
      const [s, t] = [along(w.a), along(w.b)].sort((a, b) => a - b) as [number, number];
      if (!facing || gap < 1e-6 || Math.min(t, wall.length) - Math.max(s, 0) < 0.05) continue;
      const reach = Math.max(0, gap - LEAST_PARTITION_M);
      if (reach < most) [most, by] = [reach, other.name];
    }
  }
  return [least, most, by];
}

function moveOne(job: Job, room: Room, wall: WallLine, by: number) {
  const n = room.outline.length;
  const next = (wall.edge + 1) % n;
  const lines = walls(room);
  const before = lines[next]!.length;
  for (const [k, neighbour] of [[wall.edge, lines[(wall.edge + n - 1) % n]!], [next, lines[next]!]] as const) {
    const p = room.outline[k]!;
    // a corner slides along the wall that it shares, so that this one keeps its direction
    const across = neighbour.along[0] * wall.out[0] + neighbour.along[1] * wall.out[1];
    const step: Point = Math.abs(across) > 0.2 ? [neighbour.along[0] / across, neighbour.along[1] / across] : wall.out;
    room.outline[k] = cleanPoint([p[0] + step[0] * by, p[1] + step[1] * by]);
  }
  // the next wall starts at a moved corner: offsets on it count from there
  shift(job, room, next, walls(room)[next]!.length - before);
}

function shift(job: Job, room: Room, edge: number, change: number) {
  const shifted = (offset: number) => clean(Math.max(0, offset + change));
  for (const o of room.openings) if (o.edge === edge) o.offset_m = shifted(o.offset_m);
  for (const m of job.manifolds.flatMap((m) => [m, ...(m.risers ?? [])])) if (m.room_id === room.id && m.edge === edge) m.offset_m = shifted(m.offset_m);
}

/** Moves a corner; square rooms stay square because both walls at it move along. */
export function moveCorner(job: Job, roomId: string, corner: number, to: Point) {
  const room = roomOf(job, roomId);
  const at = room?.outline[corner];
  if (!room || !at) return;
  const n = room.outline.length;
  const [before, after] = [walls(room)[(corner + n - 1) % n]!, walls(room)[corner]!];
  if (Math.abs(before.along[0] * after.along[0] + before.along[1] * after.along[1]) > 1e-3) {
    // no right angle to keep: the corner alone goes
    room.outline[corner] = cleanPoint(to);
    return;
  }
  for (const edge of [before.edge, after.edge]) {
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
  const move = (p: number[]): Point => cleanPoint([p[0]! + by[0], p[1]! + by[1]]);
  if (room.floor?.splits) room.floor.splits = room.floor.splits.map((ends) => ends.map(move));
  const lattice = room.floor?.lattice;
  if (lattice?.kind === "squares") lattice.cross = move(lattice.cross);
  if (lattice?.kind === "joists") lattice.one_m = clean(lattice.one_m + by[lattice.along === "x" ? 1 : 0]);
  // a loop kept from a manifold in the room itself goes along; one from elsewhere stays where its leaders are
  const hung = new Set(job.manifolds.filter((m) => m.room_id === roomId).map((m) => m.id));
  for (const l of job.loops ?? []) if (l.room_id === roomId && hung.has(l.manifold_id)) l.corners = l.corners.map(move);
}

export function moveKeepOut(k: KeepOut, by: Point) {
  k.x0_m = clean(k.x0_m + by[0]);
  k.x1_m = clean(k.x1_m + by[0]);
  k.y0_m = clean(k.y0_m + by[1]);
  k.y1_m = clean(k.y1_m + by[1]);
}

/** Puts an opening with its middle at `at` metres from the wall's start, kept within the wall where it fits. */
export function addOpening(
  job: Job,
  roomId: string,
  edge: number,
  at: number,
  opening: Pick<Opening, "kind" | "width_m" | "height_m" | "sill_m">,
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

/** What the surveyor says of a wall: its entry, dropped again when it says nothing. */
export function setWall(room: Room, edge: number, say: Partial<Wall>) {
  const wall = room.walls.find((w) => w.edge === edge) ?? { edge };
  Object.assign(wall, say);
  room.walls = room.walls.filter((w) => w.edge !== edge);
  if (wall.beyond || wall.u !== undefined || wall.construction_id) room.walls.push(wall);
}

export function setSlope(room: Room, edge: number, slope: Omit<Slope, "edge"> | undefined) {
  room.slopes = (room.slopes ?? []).filter((s) => s.edge !== edge);
  if (slope) room.slopes.push({ edge, ...slope });
}

/** Corners of a circle's arc from a to b that rises `rise` metres to the left of the way, without its two ends. */
export function arc(a: Point, b: Point, rise: number): Point[] {
  const chord = Math.hypot(b[0] - a[0], b[1] - a[1]);
  if (chord < 0.05 || Math.abs(rise) < 0.005) return [];
  const radius = (chord * chord) / (8 * Math.abs(rise)) + Math.abs(rise) / 2;
  const [dx, dy] = [(b[0] - a[0]) / chord, (b[1] - a[1]) / chord];
  const side = Math.sign(rise);
  const middle = Math.abs(rise) - radius;
  const centre: Point = [(a[0] + b[0]) / 2 - dy * middle * side, (a[1] + b[1]) / 2 + dx * middle * side];
  const start = Math.atan2(a[1] - centre[1], a[0] - centre[0]);
  const turn = 2 * Math.atan2(chord / 2, -middle) * -side;
  // chords that stray at most 10 mm from the arc
  const pieces = Math.min(24, Math.max(3, Math.ceil(Math.abs(turn) / (2 * Math.acos(1 - Math.min(0.5, 0.01 / radius))))));
  return Array.from({ length: pieces - 1 }, (_, i) => {
    const at = start + (turn * (i + 1)) / pieces;
    return cleanPoint([centre[0] + radius * Math.cos(at), centre[1] + radius * Math.sin(at)]);
  });
}

/** Where a straight cut from a point of a wall, square to it, meets the room's other side. */
export function opposite(room: Room, edge: number, offset: number): [Point, Point] | null {
  const wall = walls(room)[edge];
  if (!wall) return null;
  const from: Point = [wall.a[0] + wall.along[0] * offset, wall.a[1] + wall.along[1] * offset];
  let nearest: { at: Point; far: number } | null = null;
  for (const w of walls(room)) {
    if (w.edge === edge) continue;
    const across = w.out[0] * wall.out[0] + w.out[1] * wall.out[1];
    if (Math.abs(across) < 1e-6) continue;
    const far = -((w.a[0] - from[0]) * w.out[0] + (w.a[1] - from[1]) * w.out[1]) / across;
    const at: Point = [from[0] - wall.out[0] * far, from[1] - wall.out[1] * far];
    const along = (at[0] - w.a[0]) * w.along[0] + (at[1] - w.a[1]) * w.along[1];
    if (far > 0.05 && along >= -1e-6 && along <= w.length + 1e-6 && (!nearest || far < nearest.far)) nearest = { at, far };
  }
  return nearest && [cleanPoint(from), cleanPoint(nearest.at)];
}

export function addMark(job: Job, level: string, kind: Mark["kind"], points: Point[]): string {
  const id = newId(job, kind === "note" ? "note" : "cut");
  job.marks.push({ id, level_id: level, kind, points: points.map(cleanPoint), text: "" });
  return id;
}

export function addEmitter(job: Job, roomId: string, kind: Emitter["kind"]): string | null {
  const room = roomOf(job, roomId);
  if (!room) return null;
  const id = newId(job, "emitter");
  room.emitters = [...(room.emitters ?? []), { id, kind, name: "", length_m: 1, height_m: kind === "radiator" ? 0.6 : 0.2, sections: 0 }];
  return id;
}

/** A storey on top of the others, or below them. */
export function addLevel(job: Job, below: boolean): string {
  const floors = job.levels.map((l) => l.floor_m ?? 0);
  const used = new Set(job.levels.map((l) => l.id));
  const id = Array.from({ length: 100 }, (_, n) => `level-${n + 2}`).find((i) => !used.has(i))!;
  const rooms = job.rooms.filter((r) => r.level_id === job.levels.at(-1)!.id);
  const storey = Math.max(2.5, ...rooms.map((r) => r.height_m)) + 0.3;
  const level = { id, name: below ? "Basement" : `Level ${job.levels.length + 1}`, floor_m: clean(below ? Math.min(...floors) - 2.6 : Math.max(...floors) + storey) };
  if (below) job.levels.unshift(level);
  else job.levels.push(level);
  return id;
}

/** Takes a level away with its rooms. */
export function removeLevel(job: Job, id: string) {
  for (const r of job.rooms.filter((r) => r.level_id === id)) remove(job, "room", r.id);
  job.marks = job.marks.filter((m) => m.level_id !== id);
  job.levels = job.levels.filter((l) => l.id !== id);
}

/** Takes a thing out of the job, with what hangs on it. */
export function remove(job: Job, kind: string, id: string) {
  if (kind === "room") {
    job.rooms = job.rooms.filter((r) => r.id !== id);
    for (const m of job.manifolds.filter((m) => m.room_id === id)) remove(job, "manifold", m.id);
    for (const m of job.manifolds) if (m.risers?.some((r) => r.room_id === id)) m.risers = m.risers.filter((r) => r.room_id !== id);
    job.loops = job.loops?.filter((l) => l.room_id !== id && !l.also_room_ids?.includes(id));
  }
  if (kind === "mark") job.marks = job.marks.filter((m) => m.id !== id);
  if (kind === "manifold") {
    job.manifolds = job.manifolds.filter((m) => m.id !== id);
    job.loops = job.loops?.filter((l) => l.manifold_id !== id);
    for (const r of job.rooms) if (r.floor?.manifold_id === id) delete r.floor.manifold_id;
    for (const c of job.circuits ?? []) c.manifold_ids = c.manifold_ids?.filter((m) => m !== id);
  }
  for (const r of job.rooms) {
    if (kind === "opening") r.openings = r.openings.filter((o) => o.id !== id);
    if (kind === "keep_out") r.keep_outs = r.keep_outs.filter((k) => k.id !== id);
  }
}

export type { Beyond, Job, KeepOut, Manifold, Opening, Point, Room };
