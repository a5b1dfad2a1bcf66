/** Others' saves of the job that is open here: taken in, or asked about; never lost. */
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { openBrowser, type Server } from "./store.fake";

let server: Server;
let store: (typeof import("./store"))["store"];

beforeEach(async () => ({ server, store } = await openBrowser()));
// a store that is left open would go on saving into the next test's server
afterEach(() => store.close());

const rename = (name: string) => store.edit("rename", (j) => (j.name = name));
const saved = () => vi.waitFor(() => expect(store.sync.state.save).toBe("saved"));

describe("others' saves", () => {
  const place = (name: string) => store.edit("place", (j) => (j.site.place = name));

  it("of other parts are taken in: both are saved, and undo takes back one's own", async () => {
    server.elsewhere({ customer: "A. Weller" });
    rename("Mine");
    await saved();
    expect([server.job.name, server.job.customer]).toEqual(["Mine", "A. Weller"]);
    expect(store.sync.state.tookIn).toBe(1);
    store.undo();
    await saved();
    await vi.waitFor(() => expect([server.job.name, server.job.customer]).toEqual(["Test", "A. Weller"]));
    store.redo();
    await vi.waitFor(() => expect([server.job.name, server.job.customer]).toEqual(["Mine", "A. Weller"]));
  });

  it("of many turns are taken in one after the other, and nothing is lost", async () => {
    for (let k = 0; k < 5; k++) {
      server.elsewhere({ customer: `Customer ${k}`, address: `${k} Mill Lane` });
      rename(`Mine ${k}`);
      place(`Place ${k}`);
      await saved();
      expect([server.job.name, server.job.site.place, server.job.customer, server.job.address]).toEqual([`Mine ${k}`, `Place ${k}`, `Customer ${k}`, `${k} Mill Lane`]);
    }
  });

  it("are shown at once where nothing waits to be saved, and undo stays", async () => {
    rename("Mine");
    await saved();
    server.elsewhere({ customer: "A. Weller" });
    await store.refresh();
    expect(store.job.value!.customer).toBe("A. Weller");
    expect([store.sync.state.save, store.sync.state.tookIn]).toEqual(["saved", 0]);
    store.undo();
    expect([store.job.value!.name, store.job.value!.customer]).toEqual(["Test", "A. Weller"]);
  });

  it("that come in the middle of a drag are not taken back by its next step", async () => {
    const began = store.job.value!;
    const drag = (k: number) => store.edit("drag", (j) => (j.site.place = `Place ${k}`), "drag", began);
    drag(1);
    await saved();
    server.elsewhere({ customer: "A. Weller" });
    await store.refresh();
    expect(store.job.value!.customer).toBe("A. Weller");
    drag(2);
    await saved();
    expect([server.job.site.place, server.job.customer]).toEqual(["Place 2", "A. Weller"]);
    store.undo();
    await vi.waitFor(() => expect([server.job.site.place, server.job.customer]).toEqual(["Alderfell", "A. Weller"]));
  });

  it("that change what an older step changed end the undoing there", async () => {
    rename("Mine 1");
    await saved();
    place("Mine too");
    await saved();
    // what they saved began with mine: of the name, undo to before it would take theirs away
    server.elsewhere({ name: "Theirs" });
    await store.refresh();
    expect(store.job.value!.name).toBe("Theirs");
    store.undo();
    expect([store.job.value!.name, store.job.value!.site.place, store.undoLabel.value]).toEqual(["Theirs", "Alderfell", ""]);
  });

  it("of the same part ask; keeping both leaves the rest of theirs", async () => {
    server.elsewhere({ name: "Theirs", customer: "A. Weller" });
    rename("Mine");
    await vi.waitFor(() => expect(store.sync.state.save).toBe("conflict"));
    expect(server.job.name).toBe("Theirs");
    await store.resolveConflict("mine");
    await saved();
    expect([server.job.name, server.job.customer]).toEqual(["Mine", "A. Weller"]);
  });

  it("that do not go together with mine, as only the server knows, ask, and mine is whole", async () => {
    server.elsewhere({ customer: "A. Weller" });
    server.refuseMerged = true;
    rename("Mine");
    await vi.waitFor(() => expect(store.sync.state.save).toBe("conflict"));
    expect([store.job.value!.name, store.job.value!.customer]).toEqual(["Mine", undefined]);
    expect(store.undoLabel.value).toBe("rename");
    // and the figures are those of mine again
    await vi.waitFor(() => expect([server.designs.at(-1)?.name, server.designs.at(-1)?.customer, store.designs.state.behind]).toEqual(["Mine", undefined, false]));
  });
});

it("word of another's save in the middle of one's own is no conflict", async () => {
  for (let k = 0; k < 10; k++) {
    server.elsewhere({ customer: `Customer ${k}` });
    rename(`Mine ${k}`);
    // as the word comes: before, while and after this window saves
    await Promise.all([store.refresh(), store.sync.save(), new Promise((r) => setTimeout(r, k)).then(() => store.refresh())]);
    await saved();
    expect([server.job.name, server.job.customer]).toEqual([`Mine ${k}`, `Customer ${k}`]);
  }
});
