/** The plant as edits of the job. */
import type { Feed, HeatSource, HeatUser, Job, Plant } from "../api/client";
import { circuitsOf } from "./circuits";
import { newId, plain } from "./edit";

/** A plant to begin with; every floor gets a circuit that can be fed on its own. */
export function beginPlant(job: Job, plant: Plant) {
  circuitsOf(job);
  job.plant = plain(plant);
}

export const plantOf = (job: Job): Plant => job.plant!;

/** Another kind of source, of the same output; what is known of the old one by its own figures goes with it. */
export function changeSource(job: Job, which: "source" | "second", usual: HeatSource) {
  const plant = plantOf(job);
  const now = plant[which];
  const scale = (now?.most_w ?? usual.most_w) / usual.most_w;
  const next = plain(usual);
  for (const key of ["most_w", "least_w", "kv_m3_h"] as const) next[key] *= scale;
  next.points = next.points?.map((p) => ({ ...p, output_w: p.output_w * scale }));
  plant[which] = next;
}

export function addUser(job: Job, usual: HeatUser): string {
  const plant = plantOf(job);
  const user = { ...plain(usual), id: newId(job, "user") };
  if (user.takes.kind === "emitters") {
    const taken = new Set((plant.users ?? []).flatMap((u) => (u.takes.kind === "emitters" ? u.takes.emitter_ids : [])));
    user.takes.emitter_ids = job.rooms.flatMap((r) => r.emitters ?? []).filter((e) => e.kind !== "electric_heater" && !taken.has(e.id)).map((e) => e.id);
  }
  (plant.users ??= []).push(user);
  return user.id;
}

export function removeUser(job: Job, id: string) {
  const plant = plantOf(job);
  plant.users = plant.users?.filter((u) => u.id !== id);
  plant.order = plant.order?.filter((o) => o !== id);
}

/** Moves a circuit in the order in which the water meets them. `shown`: the order as it stands. */
export function reorder(job: Job, shown: string[], id: string, to: number) {
  const rest = shown.filter((x) => x !== id);
  rest.splice(Math.max(0, Math.min(rest.length, to)), 0, id);
  plantOf(job).order = rest;
}

/** The feed of a circuit or user, to be changed. */
export function feedOf(job: Job, id: string): Feed {
  const of = job.circuits?.find((c) => c.id === id) ?? job.plant?.users?.find((u) => u.id === id);
  if (!of) return {};
  of.feed ??= {};
  return of.feed;
}

/** The path of that feed in the job. */
export function feedPath(job: Job | null, id: string): string {
  const circuit = job?.circuits?.findIndex((c) => c.id === id) ?? -1;
  if (circuit >= 0) return `circuits[${circuit}].feed`;
  return `plant.users[${job?.plant?.users?.findIndex((u) => u.id === id) ?? 0}].feed`;
}
