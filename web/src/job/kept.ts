/**
 * What this browser keeps of jobs: edits that the server does not have yet, and the steps of undo. Each tab has its own
 * records, so that two tabs never write over each other's; those of a closed tab are taken up by the next that opens
 * the job.
 */
import type { DBSchema } from "idb";
import type { Job } from "../api/client";
import { keptDatabase } from "../offline/database";
import { randomId } from "../random";
import type { History } from "./document";

export interface Kept extends History {
  id: string;
  tab: string;
  /** The revision that this follows. */
  revision: number;
  /** Names the save that this was, or is to be, so that the server knows it again when its answer was lost. */
  save: string;
  job: Job;
  /** Whether the server may lack it. */
  unsaved: boolean;
  at: number;
}
interface Schema extends DBSchema {
  jobs: { key: [string, string]; value: Kept; indexes: { id: string; at: number } };
}

const MOST_STEPS = 60;
const FORGET_AFTER_MS = 7 * 24 * 3600 * 1000;
/** Without locks nobody knows whether a tab lives: one that has written nothing for so long is taken for closed. */
const QUIET_MS = 60_000;
/** A page that is reloaded gives its lock free only after the new one has asked. */
const LOCK_WAIT_MS = 3000;

export const newSaveId = randomId;

/** This tab's name, the same after a reload; another one when the tab is a duplicate. */
async function nameOfTab(): Promise<string> {
  let name: string | null = null;
  try {
    name = sessionStorage.getItem("fuoco-tab");
  } catch {
    // storage is blocked: the name lasts as long as the page
  }
  name ??= randomId();
  if (!(await claim(name))) {
    name = randomId();
    await claim(name);
  }
  try {
    sessionStorage.setItem("fuoco-tab", name);
  } catch {
    // as above
  }
  return name;
}
const lockOf = (tab: string) => `fuoco-tab-${tab}`;
function claim(name: string): Promise<boolean> {
  if (!globalThis.navigator?.locks) return Promise.resolve(true);
  return new Promise((resolve) => {
    navigator.locks
      .request(lockOf(name), { signal: AbortSignal.timeout(LOCK_WAIT_MS) }, () => {
        resolve(true);
        // held for as long as the page lives
        return new Promise(() => {});
      })
      .catch(() => resolve(false));
  });
}
async function living(): Promise<Set<string> | null> {
  const held = await globalThis.navigator?.locks?.query().catch(() => null);
  return held ? new Set((held.held ?? []).map((l) => l.name ?? "")) : null;
}

/** Until the end of 2026 what was unsaved stood in the browser's local storage, of all tabs together. */
const EARLIER = "earlier";
const earlierKey = (id: string) => `fuoco-unsaved-${id}`;
function earlier(id: string): Kept[] {
  try {
    const text = localStorage.getItem(earlierKey(id));
    const was = text ? (JSON.parse(text) as { revision: number; save?: string; job: Job }) : null;
    return was?.job ? [{ id, tab: EARLIER, revision: was.revision, save: was.save ?? randomId(), job: was.job, unsaved: true, past: [], future: [], at: 0 }] : [];
  } catch {
    return [];
  }
}

const openKept = () =>
  keptDatabase<Schema>("fuoco", (db) => {
    const jobs = db.createObjectStore("jobs", { keyPath: ["id", "tab"] });
    jobs.createIndex("id", "id");
    jobs.createIndex("at", "at");
  });

/** Of jobs that nothing was kept of since then (ms) nothing stays but what is unsaved, which is never forgotten. */
async function forget(database: ReturnType<typeof openKept>, until: number) {
  try {
    let old = await (await database()).transaction("jobs", "readwrite").store.index("at").openCursor(IDBKeyRange.upperBound(until));
    for (; old; old = await old.continue()) if (!old.value.unsaved) await old.delete();
  } catch {
    // the next page tries again
  }
}
/** Whoever signs out leaves nothing to read but edits that the server does not have. */
export const forgetSaved = () => forget(openKept(), Date.now());

export function createKept() {
  const database = openKept();
  const tab = nameOfTab();

  /** Keeps a job; whether that worked: the browser's store may be blocked or full. */
  async function put(kept: Omit<Kept, "tab" | "at">): Promise<boolean> {
    try {
      const record = { ...kept, past: kept.past.slice(-MOST_STEPS), future: kept.future.slice(-MOST_STEPS), tab: await tab, at: Date.now() };
      await (await database()).put("jobs", record);
      return true;
    } catch {
      return false;
    }
  }

  async function drop(id: string, of?: string) {
    try {
      if (of === EARLIER) return localStorage.removeItem(earlierKey(id));
      await (await database()).delete("jobs", [id, of ?? (await tab)]);
    } catch {
      // nothing could be kept, so there is nothing to drop
    }
  }

  /** This tab's record of a job, and what closed tabs left unsaved, newest first. */
  async function left(id: string): Promise<{ own?: Kept; others: Kept[] }> {
    try {
      const db = await database();
      const [mine, alive] = [await tab, await living()];
      const all = await db.getAllFromIndex("jobs", "id", id);
      const closed = all.filter((k) => k.tab !== mine && (alive ? !alive.has(lockOf(k.tab)) : Date.now() - k.at > QUIET_MS));
      const others = closed.filter((k) => k.unsaved).sort((a, b) => b.at - a.at);
      return { own: all.find((k) => k.tab === mine), others: [...others, ...earlier(id)] };
    } catch {
      return { others: earlier(id) };
    }
  }

  void forget(database, Date.now() - FORGET_AFTER_MS);

  return { put, drop, left };
}
export type KeptStore = ReturnType<typeof createKept>;
