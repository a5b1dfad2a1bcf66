/** Floors, build-ups, patches and fields as edits of the job. */
import type { BuildLayer, BuildUp, Floor, Job, Point, Remedy, Room, Variant } from "../api/client";
import { newId, plain, roomOf } from "./edit";
import { store } from "./store";
import { usual } from "./usual";

export const buildUps = (): BuildUp[] => [...(store.job.value?.build_ups ?? []), ...(store.library.value?.build_ups ?? [])];
export const buildUp = (id: string | undefined): BuildUp | undefined => buildUps().find((b) => b.id === id);
export const isOwn = (id: string | undefined): boolean => store.job.value?.build_ups.some((b) => b.id === id) ?? false;
/** Those that heat a room in that place. */
export const buildUpsFor = (face: BuildUp["face"]): BuildUp[] => buildUps().filter((b) => b.face === face && Boolean(b.outdoors) === Boolean(store.job.value?.outdoors));

/** What a room has that a build-up is used for: its floor, or a field. */
export type Use = { room: string; field?: number };

function usedBy(job: Job, use: Use): { get: string; set: (id: string) => void } | undefined {
  const room = roomOf(job, use.room);
  if (!room) return undefined;
  if (use.field !== undefined) {
    const field = room.fields?.[use.field];
    return field && { get: field.build_up_id, set: (id) => (field.build_up_id = id) };
  }
  const floor = room.floor;
  return floor ? { get: floor.build_up_id, set: (id) => (floor.build_up_id = id) } : undefined;
}

/** Changes the build-up of a floor or field; one of the library is copied first and the copy belongs to the job. */
export function changeBuildUp(use: Use, label: string, change: (b: BuildUp) => void, merge?: string): void {
  store.edit(
    label,
    (job) => {
      const of = usedBy(job, use);
      if (!of) return;
      let own = job.build_ups.find((b) => b.id === of.get);
      if (!own) {
        const from = store.library.value?.build_ups?.find((b) => b.id === of.get);
        if (!from) return;
        own = { ...plain(from), id: newId(job, "build-up"), name: `${from.name}, own` };
        job.build_ups.push(own);
        own = job.build_ups[job.build_ups.length - 1]!;
        of.set(own.id);
      }
      change(own);
    },
    merge,
  );
}

const LEAST_M = 0.0005;
export function setThickness(b: BuildUp, index: number, thickness_m: number): void {
  const layer = b.layers[index];
  if (layer) layer.thickness_m = Math.max(LEAST_M, Math.min(2, Math.round(thickness_m * 10000) / 10000));
}
export function moveLayer(b: BuildUp, index: number, by: -1 | 1): void {
  const to = index + by;
  if (to < 0 || to >= b.layers.length) return;
  const [layer] = b.layers.splice(index, 1);
  b.layers.splice(to, 0, layer!);
  if (b.tube_layer === index) b.tube_layer = to;
  else if (b.tube_layer === to) b.tube_layer = index;
}
export function addLayer(b: BuildUp, after: number, layer: BuildLayer): void {
  b.layers.splice(after + 1, 0, layer);
  if (b.tube_layer > after) b.tube_layer += 1;
}
/** The layer that holds the tube stays. */
export function removeLayer(b: BuildUp, index: number): void {
  if (index === b.tube_layer) return;
  b.layers.splice(index, 1);
  if (b.tube_layer > index) b.tube_layer -= 1;
}
/** Only one layer is the insulation that a room's own figure replaces. */
export function setInsulation(b: BuildUp, index: number, on: boolean): void {
  b.layers.forEach((l, i) => (l.insulation = on ? i === index : i === index ? false : l.insulation));
}

/** Puts a floor in, with the build-up that belongs to it where that is a new one. */
export function takeVariant(room: string, v: Variant): void {
  store.edit("take a floor", (job) => {
    const of = roomOf(job, room);
    if (!of) return;
    const floor: Floor = plain(v.choice.floor);
    if (v.choice.build_up) {
      const known = job.build_ups.find((b) => b.name === v.choice.build_up!.name);
      const own = known ?? { ...plain(v.choice.build_up), id: newId(job, "build-up") };
      if (!known) job.build_ups.push(own);
      floor.build_up_id = own.id;
    }
    of.floor = floor;
  });
}

export function takeRemedy(room: string, r: Remedy): void {
  store.edit("take a remedy", (job) => {
    const of = roomOf(job, room);
    if (!of) return;
    // only what the remedy is about: the rest of the floor may have changed since it was tried
    if (r.floor && of.floor && r.kind !== "covering") Object.assign(of.floor, { spacing_core_m: r.floor.spacing_core_m, spacing_edge_m: r.floor.spacing_edge_m });
    if (r.floor && of.floor && r.kind !== "spacing") of.floor.covering_id = r.floor.covering_id;
    if (r.field) of.fields = [...(of.fields ?? []), { ...plain(r.field), id: newId(job, "field") }];
    if (r.emitter) of.emitters = [...(of.emitters ?? []), { ...plain(r.emitter), id: newId(job, "emitter") }];
  });
}

export function addField(room: string, edge: number | undefined): void {
  store.edit("add a field", (job) => {
    const of = roomOf(job, room);
    const usually = edge === undefined ? usual()?.ceiling_field : usual()?.wall_field;
    if (of && usually) of.fields = [...(of.fields ?? []), { ...plain(usually), id: newId(job, "field"), edge }];
  });
}

/** Changes a floor: the perimeter is never wider spaced than the field. */
export function change(floor: Floor, values: Partial<Floor>): void {
  Object.assign(floor, values);
  if (floor.spacing_edge_m <= floor.spacing_core_m) return;
  if (values.spacing_edge_m !== undefined) floor.spacing_core_m = floor.spacing_edge_m;
  else floor.spacing_edge_m = floor.spacing_core_m;
}

/** Leading numbers of two ranks decide. */
export function byRank(a: Variant, b: Variant): number {
  for (let i = 0; i < Math.max(a.rank.length, b.rank.length); i++) {
    const d = (a.rank[i] ?? 0) - (b.rank[i] ?? 0);
    if (d !== 0) return d;
  }
  return 0;
}

/** The joists of a room's floor as rectangles within its outline, m. */
export function joists(room: Room): Point[][] {
  const lattice = room.floor?.lattice;
  if (lattice?.kind !== "joists") return [];
  const along = lattice.along === "x" ? 0 : 1;
  const places = room.outline.map((p) => p[1 - along]!);
  const first = Math.ceil((Math.min(...places) - lattice.one_m) / lattice.centres_m);
  const last = Math.floor((Math.max(...places) - lattice.one_m) / lattice.centres_m);
  const out: Point[][] = [];
  for (let n = first; n <= last; n++) {
    const at = lattice.one_m + n * lattice.centres_m;
    // where its middle crosses the outline: in and out by turns
    const ends = room.outline.flatMap((a, i) => {
      const b = room.outline[(i + 1) % room.outline.length]!;
      const [u, v] = [a[1 - along]! - at, b[1 - along]! - at];
      return u > 0 !== v > 0 ? [a[along]! + ((b[along]! - a[along]!) * u) / (u - v)] : [];
    });
    ends.sort((a, b) => a - b);
    for (let k = 0; k + 1 < ends.length; k += 2) {
      const corner = (s: number, side: number): Point => (along ? [at + (side * lattice.width_m) / 2, s] : [s, at + (side * lattice.width_m) / 2]);
      out.push([corner(ends[k]!, -1), corner(ends[k + 1]!, -1), corner(ends[k + 1]!, 1), corner(ends[k]!, 1)]);
    }
  }
  return out;
}
