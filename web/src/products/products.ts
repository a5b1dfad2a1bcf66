/** Tubes, coverings, pumps and sources: the library's and the job's own. */
import type { Covering, HeatSource, Job, PumpModel, Tube } from "../api/client";
import { newId, plain } from "../job/edit";
import { store } from "../job/store";
import { usual } from "../job/usual";
import type { Choice } from "../kit/ChoiceField.vue";

/** The lists of a job's own products, and what each is called in words. */
export const KINDS = { tubes: "tube", coverings: "covering", pumps: "pump", sources: "source" } as const;
export type Kind = keyof typeof KINDS;
export interface Products {
  tubes?: Tube[];
  coverings?: Covering[];
  pumps?: PumpModel[];
  sources?: HeatSource[];
}

const both = <K extends "tubes" | "coverings" | "pumps">(kind: K) => [...(store.job.value?.[kind] ?? []), ...(store.library.value?.[kind] ?? [])] as NonNullable<Products[K]>;
export const tubes = () => both("tubes");
export const coverings = () => both("coverings");
export const pumps = () => both("pumps");

const nameIn = (list: { id: string; name: string }[], id: string | null | undefined) => list.find((x) => x.id === id)?.name;
export const tubeName = (id: string | null | undefined) => nameIn(tubes(), id) ?? id ?? "";
export const coveringName = (id: string | null | undefined) => nameIn(coverings(), id) ?? id ?? "";

/** To choose from, the job's own in a group of their own. */
export function choices(kind: "tubes" | "coverings" | "pumps"): Choice<string>[] {
  const own = store.job.value?.[kind] ?? [];
  const choice = (group: string | undefined) => (x: { id: string; name: string }) => ({ value: x.id, text: x.name, group });
  return [...own.map(choice("Own")), ...(store.library.value?.[kind] ?? []).map(choice(own.length ? "Library" : undefined))];
}

/** What a new one can be like: those of the library, and the usual sources. */
export function models(kind: Kind): { id: string; name: string; it: Tube | Covering | PumpModel | HeatSource }[] {
  if (kind === "sources") return (usual()?.sources ?? []).map((it) => ({ id: it.kind, name: it.name ?? it.kind, it }));
  return both(kind).map((it) => ({ id: it.id, name: it.name, it }));
}

/** The first of "Name, own", "Name, own 2" … that is not taken. */
export function freeName(taken: (string | undefined)[], name: string): string {
  const base = name.endsWith(", own") ? name : `${name}, own`;
  for (let n = 1; ; n++) {
    const wanted = n === 1 ? base : `${base} ${n}`;
    if (!taken.includes(wanted)) return wanted;
  }
}

/** Adds one that is like another. */
export function addLike(job: Job, kind: Kind, like: Tube | Covering | PumpModel | HeatSource) {
  const list = ((job as Products)[kind] ??= []) as { id?: string; name?: string }[];
  const made = { ...plain(like), name: freeName(list.map((x) => x.name), like.name ?? "") } as { id?: string; name?: string };
  if (kind !== "sources") made.id = newId(job, KINDS[kind]);
  list.push(made);
}

/** By which fields a job names one. */
const NAMED_BY: Partial<Record<Kind, string>> = { tubes: "tube_id", coverings: "covering_id", pumps: "model_id" };
/** How often a job names it. A source is copied when it is chosen: nothing names it. */
export function timesUsed(job: Job, kind: Kind, id: string | undefined): number {
  const field = NAMED_BY[kind];
  let n = 0;
  JSON.stringify(job, (key, value: unknown) => {
    if (key === field && value === id) n++;
    return value;
  });
  return n;
}
