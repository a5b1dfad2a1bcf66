// What the server makes of records: an answer that comes late belongs to no other job.
import { beforeEach, describe, expect, it, vi } from "vitest";
import { effectScope, nextTick } from "vue";
import { openBrowser } from "../job/store.fake";
import type { LayingDesign } from "../api/client";

const log = (name: string) => ({ gone: [name], loops: [] }) as unknown as LayingDesign;
let open: Awaited<ReturnType<typeof openBrowser>>;
beforeEach(async () => {
  open = await openBrowser();
});
/** Answers of the server by job, given when the test wants. */
async function asking() {
  const { servedOf } = await import("./served");
  const waiting: { id: string; give: (log: LayingDesign) => void; fail: (e: unknown) => void }[] = [];
  const of = servedOf("laying", (id) => new Promise((give, fail) => waiting.push({ id, give, fail })));
  return { of, waiting };
}

describe("what the server makes of records", () => {
  it("of one job is never shown with another", async () => {
    const { of, waiting } = await asking();
    const scope = effectScope();
    scope.run(() => of.look());
    expect(waiting.map((w) => w.id)).toEqual(["a"]);
    const opening = open.store.open("b");
    waiting[0]!.give(log("of a"));
    await nextTick();
    expect(of.served.value).toBeNull();
    await opening;
    await vi.waitFor(() => expect(waiting.at(-1)!.id).toBe("b"));
    waiting.at(-1)!.give(log("of b"));
    await vi.waitFor(() => expect(of.served.value?.gone).toEqual(["of b"]));
    scope.stop();
  });
  it("is the newest that was asked for, and asked again after a save only where somebody looks", async () => {
    const { of, waiting } = await asking();
    const scope = effectScope();
    scope.run(() => of.look());
    open.store.live.state.recorded++;
    await vi.waitFor(() => expect(waiting.length).toBe(2));
    waiting[1]!.give(log("new"));
    await vi.waitFor(() => expect(of.served.value?.gone).toEqual(["new"]));
    waiting[0]!.give(log("old"));
    await nextTick();
    expect(of.served.value?.gone).toEqual(["new"]);
    open.store.edit("rename", (j) => void (j.name = "Changed"));
    await vi.waitFor(() => expect(waiting.length).toBe(3));
    scope.stop();
    open.store.edit("rename", (j) => void (j.name = "Changed again"));
    await vi.waitFor(() => expect([open.server.saves, open.store.sync.state.save]).toEqual([2, "saved"]));
    expect(waiting.length).toBe(3);
  });
  it("is what was put by where there is no network, and says so where nothing was", async () => {
    const { of, waiting } = await asking();
    const { Unreachable } = await import("../api/client");
    of.look();
    waiting[0]!.fail(new Unreachable("no connection"));
    await vi.waitFor(() => expect(of.failed.value).toContain("does not answer"));
    const { shelf } = await import("./shelf");
    await vi.waitFor(async () => expect(await shelf.get("a")).toBeTruthy(), { timeout: 5000 });
    await shelf.put({ id: "a", laying: log("put by") });
    of.look();
    waiting.at(-1)!.fail(new Unreachable("no connection"));
    await vi.waitFor(() => expect([of.served.value?.gone, of.failed.value]).toEqual([["put by"], ""]));
  });
});
