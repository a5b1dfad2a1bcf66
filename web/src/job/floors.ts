/** Floors, build-ups, patches and fields as edits of the job. */
import type { BuildLayer, BuildUp, Field, Floor, Job, Remedy, Variant } from "../api/client";
import { newId, roomOf } from "./edit";
import { store } from "./store";

const copy = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T;

export const buildUps = (): BuildUp[] => [...(store.job.value?.build_ups ?? []), ...(store.library.value?.build_ups ?? [])];
export const buildUp = (id: string | undefined): BuildUp | undefined => buildUps().find((b) => b.id === id);
export const isOwn = (id: string | undefined): boolean => store.job.value?.build_ups.some((b) => b.id === id) ?? false;
/** Those that heat a room in that place. */
export const buildUpsFor = (face: BuildUp["face"]): BuildUp[] => buildUps().filter((b) => b.face === face && !b.outdoors);

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
        own = { ...copy(from), id: newId(job, "build-up"), name: `${from.name}, own` };
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
    const floor: Floor = copy(v.choice.floor);
    if (v.choice.build_up) {
      const known = job.build_ups.find((b) => b.name === v.choice.build_up!.name);
      const own = known ?? { ...copy(v.choice.build_up), id: newId(job, "build-up") };
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
    if (r.floor) of.floor = copy(r.floor);
    if (r.field) of.fields = [...(of.fields ?? []), { ...copy(r.field), id: newId(job, "field") }];
  });
}

export function addField(room: string, edge: number | undefined): void {
  store.edit("add a field", (job) => {
    const of = roomOf(job, room);
    if (!of) return;
    const field: Field = {
      id: newId(job, "field"),
      edge,
      width_m: 2,
      height_m: edge === undefined ? 2 : 1,
      build_up_id: edge === undefined ? "ceiling-board" : "wall-board",
      tube_id: "pex-12x1.3",
      spacing_m: 0.15,
    };
    of.fields = [...(of.fields ?? []), field];
  });
}

/** Leading numbers of two ranks decide. */
export function byRank(a: Variant, b: Variant): number {
  for (let i = 0; i < Math.max(a.rank.length, b.rank.length); i++) {
    const d = (a.rank[i] ?? 0) - (b.rank[i] ?? 0);
    if (d !== 0) return d;
  }
  return 0;
}
