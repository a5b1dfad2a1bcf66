/**
 * What this browser can show without a network: the jobs opened last with their figures, and what the app asks for once. It is for
 * reading only; edits that wait for the server are kept by `job/kept.ts`, records by `outbox.ts`.
 */
import type { DBSchema, IDBPDatabase } from "idb";
import type { Design, Job, LayingDesign, Library, PressureTests, SessionInfo, StartUpDesign } from "../api/client";
import { keptDatabase } from "./database";

export interface Shelved {
  id: string;
  revision: number;
  job: Job;
  /** As it was calculated last. */
  design?: Design;
  laying?: LayingDesign;
  tests?: PressureTests;
  startUp?: StartUpDesign;
  /** When it was put here, ms. */
  at: number;
}
/** What belongs to no job. */
interface Things {
  library: Library;
  session: SessionInfo;
}
interface Schema extends DBSchema {
  jobs: { key: string; value: Shelved; indexes: { at: number } };
  things: { key: string; value: Things[keyof Things] };
}

const MOST_JOBS = 12;

export function createShelf() {
  const database = keptDatabase<Schema>("fuoco-shelf", (db) => {
    db.createObjectStore("jobs", { keyPath: "id" }).createIndex("at", "at");
    db.createObjectStore("things");
  });
  /** Blocked or full: there is then nothing to read without a network, and nothing else is lost. */
  async function quietly<T>(what: (db: IDBPDatabase<Schema>) => Promise<T>): Promise<T | undefined> {
    try {
      return await what(await database());
    } catch {
      return undefined;
    }
  }

  /** Puts a job by, or what is new of it; the ones opened longest ago make room. */
  const put = (job: Pick<Shelved, "id"> & Partial<Shelved>) =>
    quietly(async (db) => {
      const change = db.transaction("jobs", "readwrite");
      const was = await change.store.get(job.id);
      // a log may come before its job: what there is of both is put together
      await change.store.put({ ...was, ...job, at: Date.now() } as Shelved);
      const keys = await change.store.index("at").getAllKeys();
      for (const key of keys.slice(0, Math.max(0, keys.length - MOST_JOBS))) await change.store.delete(key);
      await change.done;
    });
  const whole = (of: Shelved | undefined) => (of?.job && of.revision !== undefined ? of : undefined);
  const get = async (id: string) => whole(await quietly((db) => db.get("jobs", id)));
  /** The one opened last first. */
  const list = async (): Promise<Shelved[]> => ((await quietly((db) => db.getAllFromIndex("jobs", "at"))) ?? []).reverse().filter(whole);
  const drop = (id: string) => quietly((db) => db.delete("jobs", id));

  const putThing = <K extends keyof Things>(name: K, thing: Things[K]) => quietly((db) => db.put("things", thing, name));
  const thing = <K extends keyof Things>(name: K) => quietly((db) => db.get("things", name)) as Promise<Things[K] | undefined>;

  /** Whoever signs out leaves nothing to read. */
  const clear = () =>
    quietly(async (db) => {
      await Promise.all([db.clear("jobs"), db.clear("things")]);
      if (typeof caches !== "undefined") await caches.delete("files");
    });
  return { put, get, list, drop, putThing, thing, clear };
}
export const shelf = createShelf();
