import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Job } from "../api/client";
import { anotherTab, kept, openBrowser, unsaved, type Server } from "./store.fake";

let server: Server;
let store: (typeof import("./store"))["store"];

beforeEach(async () => ({ server, store } = await openBrowser()));
// a store that is left open would go on saving into the next test's server
afterEach(() => store.close());

const rename = (name: string, merge?: string) => store.edit("rename", (j) => (j.name = name), merge);
const saved = () => vi.waitFor(() => expect(store.sync.state.save).toBe("saved"));

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
    expect([store.undoLabel.value, store.redoLabel.value]).toEqual(["rename", ""]);
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
    expect(store.sync.state.save).toBe("saving");
    await saved();
    expect(server.job.name).toBe("Name 29");
    expect(server.saves).toBeLessThanOrEqual(2);
    expect(await unsaved()).toEqual([]);
  });

  it("keeps an edit in the browser until the server has it", async () => {
    server.down = true;
    rename("Kept");
    await vi.waitFor(() => expect(store.sync.state.save).toBe("offline"));
    await vi.waitFor(async () => expect(await unsaved()).toEqual(["Kept"]));
    server.down = false;
    store.sync.retry();
    await saved();
    expect(server.job.name).toBe("Kept");
    expect(await unsaved()).toEqual([]);
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
    await vi.waitFor(() => expect(store.sync.state.save).toBe("conflict"));
    expect(server.job.name).toBe("Theirs");
  });

  it("takes its own save for no other's when the answer was lost, also after a reload", async () => {
    server.loseAnswers = true;
    rename("Mine");
    await vi.waitFor(() => expect(store.sync.state.save).toBe("offline"));
    expect(server.job.name).toBe("Mine");
    store.close();
    server.loseAnswers = false;
    await store.open("a");
    await saved();
    expect(server.job.name).toBe("Mine");
    rename("Mine, further");
    await saved();
    expect(server.job.name).toBe("Mine, further");
    expect(await unsaved()).toEqual([]);
  });

  it("says which field the server refuses and saves again once it is mended", async () => {
    server.refuse = "site.outdoor_c: must be between -60 and 25";
    rename("Refused");
    await vi.waitFor(() => expect(store.sync.state.save).toBe("refused"));
    expect(store.sync.state.problem?.detail).toContain("site.outdoor_c");
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
    await vi.waitFor(() => expect(store.sync.state.save).toBe("conflict"));
  });

  it("never overwrites by itself, however many edits follow", async () => {
    rename("Mine, again");
    await new Promise((r) => setTimeout(r, 600));
    expect(server.job.name).toBe("Theirs");
    expect(store.sync.state.theirRevision).toBe(9);
  });

  it("becomes a job of its own", async () => {
    expect(await store.resolveConflict("copy")).toBe("copy");
    expect(server.added[0]!.name).toBe("Mine (my version)");
    expect(server.job.name).toBe("Theirs");
  });

  it("gives way", async () => {
    await store.resolveConflict("theirs");
    expect(store.job.value!.name).toBe("Theirs");
    expect(store.sync.state.save).toBe("saved");
    expect(await unsaved()).toEqual([]);
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
    await vi.waitFor(() => expect(store.designs.settled.value).toBe(true));
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
    await vi.waitFor(() => expect(store.designs.settled.value).toBe(true));
    expect(store.designs.state.behind).toBe(false);
    let go = () => {};
    server.hold = new Promise((resolve) => (go = resolve));
    rename("Slow");
    await saved();
    await vi.waitFor(() => expect(store.designs.state.behind).toBe(true));
    expect((store.design.value as unknown as { of: string }).of).toBe("Test");
    go();
    await vi.waitFor(() => expect(store.designs.state.behind).toBe(false));
    expect((store.design.value as unknown as { of: string }).of).toBe("Slow");
  });

  it("that takes long is given up for the newest edit", async () => {
    await vi.waitFor(() => expect(store.designs.settled.value).toBe(true));
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
    store.where.level = "ground";
    expect(store.levelJob.value!.rooms.map((r) => r.id)).toEqual(["room-ground"]);
    store.select({ kind: "room", id: "room-up" });
    expect(store.where.level).toBe("up");
    expect(store.levelJob.value!.rooms.map((r) => r.id)).toEqual(["room-up"]);
  });
});

describe("an edit kept by an older Fuoco", () => {
  it("is brought to this version on its way through the server", async () => {
    server.down = true;
    rename("Kept long ago");
    await vi.waitFor(async () => expect(await unsaved()).toEqual(["Kept long ago"]));
    store.close();
    server.down = false;
    // since then the server's documents have another version
    server.job = { ...server.job, version: 3 } as Job;
    const put = server.fetch;
    server.fetch = async (request) => {
      const answer = await put(request);
      server.job = { ...server.job, version: 3 } as Job;
      return answer;
    };
    await store.open("a");
    await vi.waitFor(() => expect(store.job.value?.name).toBe("Kept long ago"));
    expect(store.job.value!.version).toBe(3);
    expect(await unsaved()).toEqual([]);
  });
});

describe("an edit kept where earlier versions kept it", () => {
  it("is taken up and saved", async () => {
    store.close();
    const local = new Map([["fuoco-unsaved-a", JSON.stringify({ revision: server.revision, save: "0123456789ab", job: { ...server.job, name: "From local storage" } })]]);
    vi.stubGlobal("localStorage", { getItem: (k: string) => local.get(k) ?? null, removeItem: (k: string) => local.delete(k) });
    await store.open("a");
    expect(store.job.value!.name).toBe("From local storage");
    await saved();
    expect(server.job.name).toBe("From local storage");
    await vi.waitFor(() => expect(local.size).toBe(0));
  });
});

describe("two tabs of one browser", () => {
  it("keep their unsaved edits apart, and none is lost", async () => {
    server.down = true;
    rename("Of the first");
    await vi.waitFor(async () => expect(await unsaved()).toEqual(["Of the first"]));
    server.down = false;
    const other = await anotherTab();
    await other.open("a");
    server.down = true;
    other.edit("rename", (j) => (j.name = "Of the second"));
    await vi.waitFor(async () => expect((await unsaved()).sort()).toEqual(["Of the first", "Of the second"]));
    expect(new Set((await kept()).map((k) => k.tab)).size).toBe(2);
    other.close();
  });

  it("that is behind takes up what the other saved, when it has nothing of its own to save", async () => {
    server.job = { ...server.job, name: "Saved elsewhere" };
    server.revision = 4;
    await store.refresh();
    expect(store.job.value!.name).toBe("Saved elsewhere");
    rename("Further");
    await saved();
    expect([server.job.name, server.revision]).toEqual(["Further", 5]);
  });
});

describe("leaving", () => {
  it("sends the last edit at once", async () => {
    rename("Typed and left");
    store.close();
    await vi.waitFor(() => expect(server.job.name).toBe("Typed and left"));
    expect(server.saves).toBe(1);
  });

  it("in the middle of a save loses nothing and is no conflict with oneself", async () => {
    rename("First");
    let go = () => {};
    const held = new Promise<void>((resolve) => (go = resolve));
    const put = server.fetch;
    server.fetch = async (request) => {
      if (request.method === "PUT") await held;
      return put(request);
    };
    const saving = store.sync.save();
    rename("Second");
    store.close();
    go();
    await saving;
    server.fetch = put;
    await store.open("a");
    await saved();
    expect([server.job.name, store.job.value!.name]).toEqual(["Second", "Second"]);
  });

  it("and coming back, one can still undo", async () => {
    rename("One");
    rename("Two");
    await saved();
    store.close();
    await vi.waitFor(async () => expect((await kept())[0]?.unsaved).toBe(false));
    await store.open("a");
    expect(store.undoLabel.value).toBe("rename");
    store.undo();
    expect(store.job.value!.name).toBe("One");
  });

  it("while a design runs does not stop the designs of the same job opened again", async () => {
    await vi.waitFor(() => expect(store.designs.settled.value).toBe(true));
    server.hold = new Promise(() => {});
    rename("Slow");
    await new Promise((r) => setTimeout(r, 5));
    store.close();
    server.hold = null;
    await store.open("a");
    await vi.waitFor(() => expect((store.design.value as unknown as { of: string }).of).toBe("Slow"));
  });
});

describe("in a conflict", () => {
  it("the last edit before leaving is kept too", async () => {
    server.elsewhere({ name: "Theirs" });
    rename("Mine");
    await vi.waitFor(() => expect(store.sync.state.save).toBe("conflict"));
    expect(store.sync.state.conflicts).toEqual(["name"]);
    rename("Mine, the last word");
    store.close();
    await vi.waitFor(async () => expect(await unsaved()).toEqual(["Mine, the last word"]));
  });
});

describe("a job deleted elsewhere", () => {
  beforeEach(async () => {
    server.gone = true;
    rename("Mine");
    await vi.waitFor(() => expect(store.sync.state.save).toBe("gone"));
  });

  it("can be kept as a job of its own", async () => {
    expect(await store.resolveConflict("copy")).toBe("copy");
    expect(server.added[0]!.name).toBe("Mine (my version)");
  });

  it("can be brought back with one's edits", async () => {
    await store.resolveConflict("mine");
    await saved();
    expect([server.gone, server.job.name]).toEqual([false, "Mine"]);
  });

  it("can be let go", async () => {
    expect(await store.resolveConflict("theirs")).toBe("");
    expect(server.added).toEqual([]);
    expect(await unsaved()).toEqual([]);
  });
});

describe("trouble at the server or in the browser", () => {
  it("says what the server says when its disk is full, and tries again", async () => {
    server.broken = "The disk is full: nothing can be saved.";
    rename("Waits");
    await vi.waitFor(() => expect(store.sync.state.save).toBe("failed"));
    expect(store.sync.state.problem?.detail).toContain("disk is full");
    server.broken = null;
    store.sync.retry();
    await saved();
    expect(server.job.name).toBe("Waits");
  });

  it("designs and saves with the browser's storage blocked, and says that nothing keeps an edit while the server is away", async () => {
    store.close();
    vi.stubGlobal("indexedDB", { open: () => { throw new DOMException("blocked", "SecurityError"); } });
    vi.stubGlobal("sessionStorage", { getItem: () => { throw new DOMException("blocked", "SecurityError"); } });
    vi.resetModules();
    const { store: blocked } = await import("./store");
    await blocked.open("a");
    await vi.waitFor(() => expect(blocked.design.value).not.toBeNull());
    blocked.edit("rename", (j) => (j.name = "In memory"));
    await vi.waitFor(() => expect(server.job.name).toBe("In memory"));
    server.down = true;
    blocked.edit("rename", (j) => (j.name = "Nowhere"));
    await vi.waitFor(() => expect([blocked.sync.state.save, blocked.sync.state.nowhere]).toEqual(["offline", true]));
    blocked.close();
  });
});

describe("the viewer's units", () => {
  it("are those in which findings are asked for, and leave the job alone", async () => {
    const { viewer } = await import("./viewer");
    await vi.waitFor(() => expect(store.designs.settled.value).toBe(true));
    viewer.units.value = "us";
    await vi.waitFor(() => expect(server.designs.at(-1)!.site.units).toBe("us"));
    expect([store.job.value!.site.units, store.units.value, server.saves]).toEqual(["metric", "us", 0]);
    viewer.units.value = "job";
  });
});

describe("without a network", () => {
  it("a job that was open before can be read, not changed; with the network it is the server's again, in place", async () => {
    const { server, store } = await openBrowser();
    await vi.waitFor(() => expect(store.designs.current.value).toBe(true));
    const { shelf } = await import("../offline/shelf");
    await vi.waitFor(async () => expect(await shelf.get("a")).toBeTruthy(), { timeout: 5000 });
    store.close();
    server.down = true;
    await store.open("a");
    expect([store.state.loadError, store.job.value?.name, store.designs.current.value]).toEqual([null, "Test", true]);
    expect(store.state.offlineSince).toBeGreaterThan(0);
    store.edit("rename", (j) => void (j.name = "Changed"));
    expect([store.job.value?.name, store.state.locked]).toEqual(["Test", 1]);
    const shown = store.job.value;
    await store.comeBack();
    expect([store.job.value === shown, store.state.offlineSince !== null]).toEqual([true, true]);
    server.down = false;
    server.elsewhere({ name: "Meanwhile" });
    await store.comeBack();
    expect([store.job.value?.name, store.state.offlineSince, store.state.loading]).toEqual(["Meanwhile", null, false]);
    store.edit("rename", (j) => void (j.name = "Changed"));
    expect(store.job.value?.name).toBe("Changed");
  });
  it("what waits to be saved is shown, and the figures are told to be older", async () => {
    const { server, store } = await openBrowser();
    const { shelf } = await import("../offline/shelf");
    await vi.waitFor(async () => expect(await shelf.get("a")).toBeTruthy(), { timeout: 5000 });
    server.down = true;
    store.edit("rename", (j) => void (j.name = "Waits"));
    await vi.waitFor(async () => expect(await unsaved()).toEqual(["Waits"]));
    store.close();
    await store.open("a");
    expect([store.job.value?.name, store.designs.current.value, store.designs.state.behind]).toEqual(["Waits", false, true]);
    server.down = false;
    await store.comeBack();
    await vi.waitFor(() => expect([server.job.name, store.designs.state.behind]).toEqual(["Waits", false]));
  });
  it("signing out leaves nothing to read, and edits that the server lacks stay", async () => {
    const { server, store } = await openBrowser();
    store.edit("rename", (j) => void (j.name = "Saved"));
    await vi.waitFor(async () => expect(await kept()).toMatchObject([{ name: "Saved", unsaved: false }]));
    const { forgetSaved } = await import("./kept");
    server.down = true;
    store.edit("rename", (j) => void (j.name = "Waits"));
    await vi.waitFor(async () => expect(await unsaved()).toEqual(["Waits"]));
    await forgetSaved();
    expect(await unsaved()).toEqual(["Waits"]);
    server.down = false;
    store.sync.retry();
    await vi.waitFor(async () => expect(await kept()).toMatchObject([{ name: "Waits", unsaved: false }]));
    await forgetSaved();
    expect(await kept()).toEqual([]);
  });
  it("a job that was never open here says that the server does not answer", async () => {
    const { server, store } = await openBrowser();
    store.close();
    server.down = true;
    await store.open("b");
    expect(store.state.loadError).toContain("does not answer");
  });
});
