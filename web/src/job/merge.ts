/**
 * Two people's changes of one job, put together. Both began with the same document; what one changed and the other did not is
 * taken, things of lists are told by their ids, and what both changed otherwise is a conflict that people settle.
 */
import type { Job } from "../api/client";

type Json = unknown;
type Obj = Record<string, Json>;
export interface Merged {
  job: Job;
  /** Where both changed the same, each as a path: "rooms[room-2].outline". Mine stands there. */
  conflicts: string[];
}

const isObj = (v: Json): v is Obj => typeof v === "object" && v !== null && !Array.isArray(v);
const hasId = (v: Json): v is Obj & { id: string } => isObj(v) && typeof v["id"] === "string";
const byIds = (v: Json): v is (Obj & { id: string })[] => Array.isArray(v) && v.every(hasId);

/** Whether two documents say the same; parts that are shared are not looked into. */
export function same(a: Json, b: Json): boolean {
  if (a === b) return true;
  if (Array.isArray(a)) return Array.isArray(b) && a.length === b.length && a.every((x, i) => same(x, b[i]));
  if (!isObj(a) || !isObj(b)) return false;
  const keys = new Set([...Object.keys(a), ...Object.keys(b)]);
  return [...keys].every((k) => same(a[k], b[k]));
}

/**
 * Parts that only make sense together, by the list they are in: a wall is named by its number along the outline, and an opening by
 * its wall. Where one changed the outline and the other a wall, both are one change.
 */
const TOGETHER: Record<string, string[][]> = { rooms: [["outline", "walls", "openings"]] };

function mergeObjects(base: Obj, mine: Obj, theirs: Obj, path: string, list: string, conflicts: string[]): Obj {
  const out: Obj = {};
  const taken = new Set<string>();
  for (const group of TOGETHER[list] ?? []) {
    const changed = (of: Obj) => group.filter((k) => !same(base[k], of[k]));
    const [iDid, theyDid] = [changed(mine), changed(theirs)];
    const shape = group[0]!;
    if (!iDid.length || !theyDid.length || !(iDid.includes(shape) || theyDid.includes(shape))) continue;
    if (group.every((k) => same(mine[k], theirs[k]))) continue;
    conflicts.push(`${path}.${shape}`);
    for (const k of group) {
      taken.add(k);
      if (k in mine) out[k] = mine[k];
    }
  }
  for (const k of new Set([...Object.keys(theirs), ...Object.keys(mine)])) {
    if (taken.has(k)) continue;
    const at = path ? `${path}.${k}` : k;
    const value = merge(base[k], mine[k], theirs[k], at, k, conflicts);
    if (value !== undefined) out[k] = value;
  }
  return out;
}

function mergeLists(base: (Obj & { id: string })[], mine: (Obj & { id: string })[], theirs: (Obj & { id: string })[], path: string, list: string, conflicts: string[]): Json[] {
  const of = (from: (Obj & { id: string })[]) => new Map(from.map((x) => [x.id, x]));
  const [was, my, their] = [of(base), of(mine), of(theirs)];
  const kept = new Map<string, Json>();
  for (const id of new Set([...their.keys(), ...my.keys()])) {
    const value = merge(was.get(id), my.get(id), their.get(id), `${path}[${id}]`, list, conflicts);
    if (value !== undefined) kept.set(id, value);
  }
  // whoever changed the order, of what both have, sets it; what was added follows what it stood behind
  const common = [...kept.keys()].filter((id) => was.has(id));
  const orderOf = (from: Map<string, unknown>) => [...from.keys()].filter((id) => common.includes(id));
  const lead = same(orderOf(was), orderOf(my)) ? theirs : mine;
  const other = lead === mine ? theirs : mine;
  const order = lead.map((x) => x.id).filter((id) => kept.has(id));
  other.forEach((x, i) => {
    if (!kept.has(x.id) || order.includes(x.id)) return;
    const before = other.slice(0, i).findLast((y) => order.includes(y.id));
    order.splice(before ? order.indexOf(before.id) + 1 : 0, 0, x.id);
  });
  return order.map((id) => kept.get(id)!);
}

function merge(base: Json, mine: Json, theirs: Json, path: string, list: string, conflicts: string[]): Json {
  if (mine === base || same(mine, base)) return theirs;
  if (theirs === base || same(theirs, base)) return mine;
  if (same(mine, theirs)) return mine;
  if (isObj(mine) && isObj(theirs) && isObj(base) && mine["kind"] === theirs["kind"]) return mergeObjects(base, mine, theirs, path, list, conflicts);
  const lists = [base ?? [], mine ?? [], theirs ?? []];
  if (Array.isArray(mine ?? []) && Array.isArray(theirs ?? []) && lists.every(byIds) && lists.some((l) => (l as Json[]).length)) {
    return mergeLists(lists[0] as never, lists[1] as never, lists[2] as never, path, list, conflicts);
  }
  conflicts.push(path);
  return mine;
}

/** Ids that both added for things of their own. */
function clashes(base: Job, mine: Job, theirs: Job): string[] {
  const ids = (job: Job) => {
    const out = new Map<string, Json>();
    JSON.stringify(job, (_, v: Json) => {
      if (hasId(v)) out.set(v.id, v);
      return v;
    });
    return out;
  };
  const [was, my, their] = [ids(base), ids(mine), ids(theirs)];
  return [...my.keys()].filter((id) => !was.has(id) && their.has(id) && !same(my.get(id), their.get(id)));
}

/** The same document with things of mine under ids that theirs has not taken. */
export function apart(base: Job, mine: Job, theirs: Job): Job {
  const taken = new Set<string>();
  for (const job of [mine, theirs]) JSON.stringify(job, (_, v: Json) => (typeof v === "string" && taken.add(v), v));
  const renamed = new Map<string, string>();
  for (const id of clashes(base, mine, theirs)) {
    const kind = /^(.*?)-?\d*$/.exec(id)![1] || "thing";
    let n = 1;
    while (taken.has(`${kind}-${n}`)) n++;
    taken.add(`${kind}-${n}`);
    renamed.set(id, `${kind}-${n}`);
  }
  if (!renamed.size) return mine;
  return JSON.parse(JSON.stringify(mine, (key, v: Json) => (typeof v === "string" && key !== "name" && renamed.has(v) ? renamed.get(v) : v))) as Job;
}

/** The same document as `next`, sharing with `base` every part that says the same: comparing them is then no work. */
export function shared<T>(base: Json, next: T): T {
  if (same(base, next)) return base as T;
  if (Array.isArray(next)) {
    const was = Array.isArray(base) ? (base as Json[]) : [];
    const byId = byIds(was) ? new Map(was.map((x) => [x.id, x])) : null;
    return next.map((x: Json, i) => shared(byId && hasId(x) ? byId.get(x.id) : was[i], x)) as T;
  }
  if (!isObj(next)) return next;
  return Object.fromEntries(Object.entries(next).map(([k, v]) => [k, shared(isObj(base) ? base[k] : undefined, v)])) as T;
}

/** What both made of the job with which both began. */
export function mergeJobs(base: Job, mine: Job, theirs: Job): Merged {
  const conflicts: string[] = [];
  const job = merge(base, apart(base, mine, theirs), theirs, "", "", conflicts) as Job;
  return { job, conflicts };
}
