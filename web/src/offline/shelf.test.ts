// What a browser can show without a network.
import "fake-indexeddb/auto";
import { IDBFactory } from "fake-indexeddb";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Design, Job, LayingDesign } from "../api/client";
import { createShelf } from "./shelf";

const job = (name: string) => ({ name, rooms: [] }) as unknown as Job;
beforeEach(() => vi.stubGlobal("indexedDB", new IDBFactory()));
afterEach(() => vi.unstubAllGlobals());

describe("jobs put by for reading", () => {
  it("puts a job, its figures and its log together, whichever comes first", async () => {
    const shelf = createShelf();
    await shelf.put({ id: "a", laying: { loops: [] } as unknown as LayingDesign });
    expect([await shelf.get("a"), await shelf.list()]).toEqual([undefined, []]);
    await shelf.put({ id: "a", revision: 3, job: job("One"), design: { loops: [] } as unknown as Design });
    expect(await shelf.get("a")).toMatchObject({ revision: 3, job: { name: "One" }, laying: { loops: [] }, design: { loops: [] } });
  });
  it("keeps the twelve opened last", async () => {
    const shelf = createShelf();
    let now = 1_000_000;
    vi.spyOn(Date, "now").mockImplementation(() => (now += 1000));
    for (let k = 0; k < 14; k++) await shelf.put({ id: `job-${k}`, revision: 1, job: job(`Job ${k}`) });
    await shelf.put({ id: "job-2", revision: 2, job: job("Job 2") });
    await shelf.put({ id: "job-14", revision: 1, job: job("Job 14") });
    const kept = (await shelf.list()).map((s) => s.id);
    expect(kept.length).toBe(12);
    expect([kept[0], kept[1], kept.includes("job-3")]).toEqual(["job-14", "job-2", false]);
  });
  it("leaves nothing when one signs out", async () => {
    const shelf = createShelf();
    await shelf.put({ id: "a", revision: 1, job: job("One") });
    await shelf.putThing("session", { needed: true, name: "Cleo", role: "crew" } as never);
    await shelf.clear();
    expect([await shelf.list(), await shelf.thing("session")]).toEqual([[], undefined]);
  });
  it("does without where the browser keeps nothing", async () => {
    vi.stubGlobal("indexedDB", { open: () => { throw new Error("blocked"); } });
    const shelf = createShelf();
    await shelf.put({ id: "a", revision: 1, job: job("One") });
    expect([await shelf.get("a"), await shelf.list()]).toEqual([undefined, []]);
  });
});
