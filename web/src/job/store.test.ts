import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Job } from "../api/client";

/** A server in memory: one job, its revision, and what it was asked. */
class Server {
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
  designs: Job[] = [];
  saves = 0;
  down = false;
  refuse: string | null = null;
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
    if (request.method === "GET") return json({ id: "a", revision: this.revision, job: this.job });
    if (this.refuse) return json({ status: 422, title: "no", detail: this.refuse, field: "site" }, 422);
    const save = url.searchParams.get("save");
    if (Number(url.searchParams.get("revision")) !== this.revision && save !== this.lastSave)
      return json({ status: 409, title: "stale", detail: "stale", current_revision: this.revision }, 409);
    this.job = (await request.json()) as Job;
    this.saves++;
    this.lastSave = save;
    this.revision++;
    if (this.loseAnswers) throw new TypeError("the connection broke");
    return json({ revision: this.revision });
  };
}

const kept = new Map<string, string>();
let server: Server;
let store: (typeof import("./store"))["store"];

beforeEach(async () => {
  kept.clear();
  server = new Server();
  vi.stubGlobal("localStorage", {
    getItem: (k: string) => kept.get(k) ?? null,
    setItem: (k: string, v: string) => kept.set(k, v),
    removeItem: (k: string) => kept.delete(k),
  });
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
  ({ store } = await import("./store"));
  await store.open("a");
});

// a store that is left open would go on saving into the next test's server
afterEach(() => store.close());

const rename = (name: string, merge?: string) => store.edit("rename", (j) => (j.name = name), merge);
const saved = () => vi.waitFor(() => expect(store.state.save).toBe("saved"));

describe("editing", () => {
  it("replaces the document and leaves the old one as it was", () => {
    const before = store.job.value!;
    rename("Other");
    expect(before.name).toBe("Test");
    expect(store.job.value!.name).toBe("Other");
  });

  it("parts what two places of a job share, so that the next edit of one leaves the other alone", () => {
    const floor = { covering_id: "tile" };
    store.edit("draw", (j) => (j.rooms = [{ id: "a", floor }, { id: "b", floor }] as never));
    store.edit("choose a covering", (j) => (j.rooms[1]!.floor!.covering_id = "carpet"));
    expect(store.job.value!.rooms.map((r) => r.floor!.covering_id)).toEqual(["tile", "carpet"]);
  });

  it("undoes and redoes, and a new edit ends the redoing", () => {
    rename("One");
    rename("Two");
    store.undo();
    expect(store.job.value!.name).toBe("One");
    store.redo();
    expect(store.job.value!.name).toBe("Two");
    store.undo();
    rename("Three");
    store.redo();
    expect(store.job.value!.name).toBe("Three");
    expect([store.state.undoDepth, store.state.redoDepth]).toEqual([2, 0]);
    store.undo();
    store.undo();
    store.undo();
    expect(store.job.value!.name).toBe("Test");
  });

  it("takes a drag for one step until it is settled", () => {
    rename("a", "drag");
    rename("b", "drag");
    store.settle();
    rename("c", "drag");
    store.undo();
    expect(store.job.value!.name).toBe("b");
    store.undo();
    expect(store.job.value!.name).toBe("Test");
  });
});

describe("saving", () => {
  it("gathers quick edits into few saves and keeps the last", async () => {
    for (let k = 0; k < 30; k++) rename(`Name ${k}`);
    expect(store.state.save).toBe("saving");
    await saved();
    expect(server.job.name).toBe("Name 29");
    expect(server.saves).toBeLessThanOrEqual(2);
    expect(kept.size).toBe(0);
  });

  it("keeps an edit in the browser until the server has it", async () => {
    server.down = true;
    rename("Kept");
    await vi.waitFor(() => expect(store.state.save).toBe("offline"));
    expect(kept.get("fuoco-unsaved-a")).toContain("Kept");
    server.down = false;
    store.retry();
    await saved();
    expect(server.job.name).toBe("Kept");
    expect(kept.size).toBe(0);
  });

  it("picks up after a closed tab what was not saved", async () => {
    server.down = true;
    rename("From the other tab");
    store.close();
    server.down = false;
    await store.open("a");
    expect(store.job.value!.name).toBe("From the other tab");
    await saved();
    expect(server.job.name).toBe("From the other tab");
  });

  it("does not take up an unsaved edit over a newer revision without asking", async () => {
    server.down = true;
    rename("Mine");
    store.close();
    server.down = false;
    server.job = { ...server.job, name: "Theirs" };
    server.revision = 5;
    await store.open("a");
    await vi.waitFor(() => expect(store.state.save).toBe("conflict"));
    expect(server.job.name).toBe("Theirs");
  });

  it("takes its own save for no other's when the answer was lost, also after a reload", async () => {
    server.loseAnswers = true;
    rename("Mine");
    await vi.waitFor(() => expect(store.state.save).toBe("offline"));
    expect(server.job.name).toBe("Mine");
    store.close();
    server.loseAnswers = false;
    await store.open("a");
    await saved();
    expect(server.job.name).toBe("Mine");
    rename("Mine, further");
    await saved();
    expect(server.job.name).toBe("Mine, further");
    expect(kept.size).toBe(0);
  });

  it("says which field the server refuses and saves again once it is mended", async () => {
    server.refuse = "site.outdoor_c: must be between -60 and 25";
    rename("Refused");
    await vi.waitFor(() => expect(store.state.save).toBe("refused"));
    expect(store.state.problem?.detail).toContain("site.outdoor_c");
    server.refuse = null;
    rename("Mended");
    await saved();
    expect(server.job.name).toBe("Mended");
  });
});

describe("a stale edit", () => {
  beforeEach(async () => {
    server.revision = 9;
    server.job = { ...server.job, name: "Theirs" };
    rename("Mine");
    await vi.waitFor(() => expect(store.state.save).toBe("conflict"));
  });

  it("never overwrites by itself, however many edits follow", async () => {
    rename("Mine, again");
    await new Promise((r) => setTimeout(r, 600));
    expect(server.job.name).toBe("Theirs");
    expect(store.state.theirRevision).toBe(9);
  });

  it("becomes a job of its own", async () => {
    expect(await store.resolveConflict("copy")).toBe("copy");
    expect(server.added[0]!.name).toBe("Mine (my version)");
    expect(server.job.name).toBe("Theirs");
  });

  it("gives way", async () => {
    await store.resolveConflict("theirs");
    expect(store.job.value!.name).toBe("Theirs");
    expect(store.state.save).toBe("saved");
    expect(kept.size).toBe(0);
  });

  it("replaces the other when that is said", async () => {
    await store.resolveConflict("mine");
    await saved();
    expect(server.job.name).toBe("Mine");
    expect(server.revision).toBe(10);
  });
});

describe("the design", () => {
  it("is of the newest edit, and edits made meanwhile are designed together", async () => {
    await vi.waitFor(() => expect(store.state.designing).toBe(false));
    server.designs = [];
    let go = () => {};
    server.hold = new Promise((resolve) => (go = resolve));
    for (let k = 0; k < 10; k++) rename(`Edit ${k}`);
    server.hold = null;
    go();
    await vi.waitFor(() => expect((store.design.value as unknown as { of: string }).of).toBe("Edit 9"));
    expect(server.designs.length).toBeLessThanOrEqual(2);
  });

  it("says when the figures shown are those of the job before, and no longer once they are not", async () => {
    await vi.waitFor(() => expect(store.state.designing).toBe(false));
    expect(store.state.behind).toBe(false);
    let go = () => {};
    server.hold = new Promise((resolve) => (go = resolve));
    rename("Slow");
    await saved();
    await vi.waitFor(() => expect(store.state.behind).toBe(true));
    expect((store.design.value as unknown as { of: string }).of).toBe("Test");
    go();
    await vi.waitFor(() => expect(store.state.behind).toBe(false));
    expect((store.design.value as unknown as { of: string }).of).toBe("Slow");
  });

  it("that takes long is given up for the newest edit", async () => {
    await vi.waitFor(() => expect(store.state.designing).toBe(false));
    vi.useFakeTimers({ toFake: ["performance"] });
    server.hold = new Promise(() => {});
    rename("Slow");
    await new Promise((r) => setTimeout(r, 20));
    vi.advanceTimersByTime(2000);
    server.hold = null;
    rename("Newest");
    await vi.waitFor(() => expect((store.design.value as unknown as { of: string }).of).toBe("Newest"));
    vi.useRealTimers();
  });

  it("of a job that was closed is dropped", async () => {
    let go = () => {};
    server.hold = new Promise((resolve) => (go = resolve));
    rename("Late");
    store.close();
    go();
    await new Promise((r) => setTimeout(r, 50));
    expect(store.design.value).toBeNull();
  });
});

describe("an edit that the server works out", () => {
  const ask = (name: string) => () => Promise.resolve({ name });
  const take = (got: { name: string }) => ({ ...store.job.value!, name: got.name });

  it("is taken as one step of undo", async () => {
    const before = store.job.value!.name;
    await store.editThere("split room", ask("Parted"), take);
    expect(store.job.value!.name).toBe("Parted");
    store.undo();
    expect(store.job.value!.name).toBe(before);
  });

  it("is left alone when the job changed meanwhile", async () => {
    let go = () => {};
    const wait = new Promise<void>((resolve) => (go = resolve));
    const asked = store.editThere("split room", async () => wait.then(() => ({ name: "Parted" })), take);
    rename("Typed meanwhile");
    go();
    expect(await asked).toBeNull();
    expect(store.job.value!.name).toBe("Typed meanwhile");
    expect(store.state.refusal).toContain("changed");
  });

  it("says why it was refused", async () => {
    const { Refused } = await import("../api/client");
    const refused = () => Promise.reject(new Refused({ type: "about:blank", status: 422, title: "Not taken", detail: "to: the cut leaves the room" }));
    expect(await store.editThere("split room", refused, take)).toBeNull();
    expect(store.state.refusal).toBe("to: the cut leaves the room");
  });
});

describe("levels", () => {
  it("show their own rooms, and choosing a thing turns to its level", () => {
    store.edit("draw", (j) => {
      j.levels.push({ id: "up", name: "Up", floor_m: 3 });
      j.rooms = ["ground", "up"].map((level_id) => ({ id: `room-${level_id}`, level_id, name: level_id, openings: [], keep_outs: [], walls: [], outline: [] })) as never;
    });
    store.state.level = "ground";
    expect(store.levelJob.value!.rooms.map((r) => r.id)).toEqual(["room-ground"]);
    store.select({ kind: "room", id: "room-up" });
    expect(store.state.level).toBe("up");
    expect(store.levelJob.value!.rooms.map((r) => r.id)).toEqual(["room-up"]);
  });
});

describe("an edit kept by an older Fuoco", () => {
  it("is brought to this version on its way through the server", async () => {
    store.close();
    kept.set("fuoco-unsaved-a", JSON.stringify({ revision: server.revision, job: { ...server.job, version: 1, name: "Kept long ago" } }));
    const put = server.fetch;
    // the server answers with the job in its own version
    server.fetch = async (request) => {
      const answer = await put(request);
      server.job = { ...server.job, version: 2 };
      return answer;
    };
    await store.open("a");
    await vi.waitFor(() => expect(store.job.value?.name).toBe("Kept long ago"));
    expect(store.job.value!.version).toBe(2);
    expect(kept.size).toBe(0);
  });
});
