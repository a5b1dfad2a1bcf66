/** A server in memory and a browser's stores, for tests of the open job. */
import "fake-indexeddb/auto";
import { IDBFactory } from "fake-indexeddb";
import { vi } from "vitest";
import type { Job } from "../api/client";
import type { Kept } from "./kept";

/** A server in memory: one job, its revision, and what it was asked. */
export class Server {
  job = {
    format: "fuoco-job",
    name: "Test",
    levels: [{ id: "ground", name: "Ground" }],
    site: { place: "Alderfell", units: "metric", outdoor_c: -10 },
    rooms: [],
    manifolds: [],
    marks: [],
    version: 2,
  } as unknown as Job;
  revision = 1;
  /** What it was, by revision. */
  history: Record<number, Job> = { 1: this.job };
  /** Somebody else saves. */
  elsewhere(change: Partial<Job>) {
    this.job = { ...this.job, ...change };
    this.history[++this.revision] = this.job;
  }
  designs: Job[] = [];
  saves = 0;
  down = false;
  refuse: string | null = null;
  /** It takes no job that has both people's changes. */
  refuseMerged = false;
  gone = false;
  /** It cannot save, and says why. */
  broken: string | null = null;
  /** Saves, and breaks the connection before it answers. */
  loseAnswers = false;
  lastSave: string | null = null;
  added: Job[] = [];
  /** Holds back answers to designs until it is called. */
  hold: Promise<void> | null = null;

  fetch = async (request: Request): Promise<Response> => {
    const url = new URL(request.url);
    const json = (body: unknown, status = 200) =>
      new Response(JSON.stringify(body), { status, headers: { "Content-Type": status < 300 ? "application/json" : "application/problem+json" } });
    if (url.pathname === "/api/session") return json({ needed: false, name: "", role: "owner" });
    if (url.pathname === "/api/library") return json({ tubes: [], coverings: [], rugs: [], build_ups: [] });
    if (url.pathname === "/api/design") {
      const job = (await request.json()) as Job;
      if (this.hold) await Promise.race([this.hold, new Promise((_, gone) => request.signal.addEventListener("abort", () => gone(new DOMException("given up", "AbortError"))))]);
      if (this.down) throw new TypeError("no connection");
      this.designs.push(job);
      return json({ rooms: [], loops: [], manifolds: [], walls: [], totals: {}, findings: [], of: job.name });
    }
    if (this.down) throw new TypeError("no connection");
    if (url.pathname === "/api/jobs/from-file") {
      this.added.push((await request.json()) as Job);
      return json({ id: "copy", revision: 1, job: this.added.at(-1) });
    }
    if (url.pathname.endsWith("/restore")) {
      this.gone = false;
      return json({});
    }
    if (this.gone) return json({ status: 404, title: "gone", detail: "There is no such job." }, 404);
    if (this.broken && request.method === "PUT") return json({ status: 507, title: "full", detail: this.broken }, 507);
    const old = /\/revisions\/(\d+)$/.exec(url.pathname);
    if (old) {
      const job = this.history[Number(old[1])];
      return job ? json({ id: "a", revision: Number(old[1]), job }) : json({ status: 404, title: "gone", detail: "not kept" }, 404);
    }
    if (request.method === "GET") return json({ id: "a", revision: this.revision, job: this.job });
    if (this.refuse) return json({ status: 422, title: "no", detail: this.refuse, field: "site" }, 422);
    const save = url.searchParams.get("save");
    if (Number(url.searchParams.get("revision")) !== this.revision && save !== this.lastSave)
      return json({ status: 409, title: "stale", detail: "stale", current_revision: this.revision }, 409);
    const sent = (await request.json()) as Job;
    if (this.refuseMerged && sent.customer) return json({ status: 422, title: "no", detail: "does not go together", field: "rooms" }, 422);
    this.job = sent;
    this.saves++;
    this.lastSave = save;
    this.history[++this.revision] = this.job;
    if (this.loseAnswers) throw new TypeError("the connection broke");
    return json({ revision: this.revision });
  };
}

/** What the browser keeps of jobs: of each its name, and whether it is unsaved. */
export async function kept(): Promise<{ name: string; unsaved: boolean; tab: string }[]> {
  const db = await new Promise<IDBDatabase>((resolve, reject) => {
    const opening = indexedDB.open("fuoco");
    opening.onsuccess = () => resolve(opening.result);
    opening.onerror = () => reject(new Error("no database"));
  });
  const all = await new Promise<Kept[]>((resolve) => {
    const reading = db.transaction("jobs").objectStore("jobs").getAll();
    reading.onsuccess = () => resolve(reading.result as Kept[]);
  });
  db.close();
  return all.map((k) => ({ name: k.job.name, unsaved: k.unsaved, tab: k.tab }));
}
export const unsaved = async () => (await kept()).filter((k) => k.unsaved).map((k) => k.name);
/** Another tab of the same browser: a store of its own over the same database. */
export async function anotherTab() {
  sessionStorage.clear();
  vi.resetModules();
  return (await import("./store")).store;
}

/** A browser as it is opened anew, with the server's one job open in it. */
export async function openBrowser() {
  const server = new Server();
  vi.stubGlobal("indexedDB", new IDBFactory());
  const session = new Map<string, string>();
  vi.stubGlobal("sessionStorage", { getItem: (k: string) => session.get(k) ?? null, setItem: (k: string, v: string) => session.set(k, v), clear: () => session.clear() });
  vi.stubGlobal("fetch", (r: Request) => server.fetch(r));
  const Original = Request;
  // relative addresses mean the page's own server
  vi.stubGlobal(
    "Request",
    class extends Original {
      constructor(input: string, init?: RequestInit) {
        super(new URL(input, "http://fuoco.test"), init);
      }
    },
  );
  vi.resetModules();
  const { store } = await import("./store");
  await store.open("a");
  return { server, store };
}
