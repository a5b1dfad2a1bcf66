import { describe, expect, it } from "vitest";
import type { Job } from "../api/client";
import { mergeJobs, same, shared } from "./merge";

const room = (id: string, more: object = {}) => ({ id, name: id, room_c: 20, outline: [[0, 0], [4, 0], [4, 3], [0, 3]], walls: [], openings: [], floor: { covering_id: "tile", spacing_core_m: 0.2 }, ...more });
const base = () => ({ name: "Barn", customer: "", site: { units: "metric", outdoor_c: -12 }, rooms: [room("room-1"), room("room-2")], manifolds: [{ id: "m", letter: "A", position: [1, 1] }], loops: [] }) as unknown as Job;
/** A change of the job, by itself. */
const changed = (change: (j: Job) => void): Job => {
  const job = structuredClone(base());
  change(job);
  return job;
};
const put = (job: Job, id: string, set: object) => void Object.assign(job.rooms.find((r) => r.id === id)!, set);

describe("changes of different parts", () => {
  it("are both there, whoever saved first", () => {
    const a = changed((j) => put(j, "room-1", { room_c: 22 }));
    const b = changed((j) => {
      put(j, "room-2", { name: "Hall" });
      j.site.outdoor_c = -8;
      j.customer = "A. Weller";
    });
    const one = mergeJobs(base(), a, b);
    const other = mergeJobs(base(), b, a);
    expect(one.conflicts).toEqual([]);
    expect(same(one.job, other.job)).toBe(true);
    expect([one.job.rooms[0]!.room_c, one.job.rooms[1]!.name, one.job.site.outdoor_c, one.job.customer]).toEqual([22, "Hall", -8, "A. Weller"]);
  });

  it("of one room are both there: its covering and its temperature", () => {
    const { job, conflicts } = mergeJobs(base(), changed((j) => put(j, "room-1", { room_c: 22 })), changed((j) => void (j.rooms[0]!.floor!.covering_id = "cork")));
    expect(conflicts).toEqual([]);
    expect([job.rooms[0]!.room_c, job.rooms[0]!.floor!.covering_id]).toEqual([22, "cork"]);
  });

  it("may add and delete: rooms drawn by both stay, under ids of their own, with what names them", () => {
    const mine = changed((j) => {
      j.rooms.push(room("room-3", { name: "Mine" }) as never);
      j.loops!.push({ id: "loop-1", room_id: "room-3" } as never);
    });
    const theirs = changed((j) => void j.rooms.splice(1, 1, room("room-3", { name: "Theirs" }) as never));
    const { job, conflicts } = mergeJobs(base(), mine, theirs);
    expect(conflicts).toEqual([]);
    expect(job.rooms.map((r) => [r.id, r.name])).toEqual([["room-1", "room-1"], ["room-4", "Mine"], ["room-3", "Theirs"]]);
    expect(job.loops![0]).toMatchObject({ room_id: "room-4" });
  });

  it("may change an order that the other adds to", () => {
    const { job } = mergeJobs(base(), changed((j) => void j.rooms.reverse()), changed((j) => void j.rooms.push(room("room-9") as never)));
    expect(job.rooms.map((r) => r.id)).toEqual(["room-2", "room-9", "room-1"]);
  });

  it("may take a part away that had not been there for long: an option set by neither is left out", () => {
    const began = { ...base(), plant: { buffer_l: 100 } } as unknown as Job;
    const { job, conflicts } = mergeJobs(began, { ...structuredClone(began), plant: undefined } as Job, { ...structuredClone(began), customer: "B" });
    expect([job.plant, job.customer, conflicts]).toEqual([undefined, "B", []]);
  });
});

describe("changes of the same part", () => {
  it("ask, with mine where they meet and theirs everywhere else", () => {
    const { job, conflicts } = mergeJobs(base(), changed((j) => put(j, "room-1", { room_c: 22 })), changed((j) => (put(j, "room-1", { room_c: 18 }), (j.customer = "B"))));
    expect(conflicts).toEqual(["rooms[room-1].room_c"]);
    expect([job.rooms[0]!.room_c, job.customer]).toEqual([22, "B"]);
  });

  it("that are the same ask nothing", () => {
    const both = () => changed((j) => put(j, "room-1", { room_c: 22 }));
    expect(mergeJobs(base(), both(), both()).conflicts).toEqual([]);
  });

  it("ask where one deletes what the other changes", () => {
    expect(mergeJobs(base(), changed((j) => void j.rooms.shift()), changed((j) => put(j, "room-1", { room_c: 18 }))).conflicts).toEqual(["rooms[room-1]"]);
  });

  it("ask where one moves a wall and the other puts a window into that room's walls", () => {
    const mine = changed((j) => put(j, "room-1", { outline: [[0, 0], [5, 0], [5, 3], [0, 3]] }));
    const theirs = changed((j) => put(j, "room-1", { openings: [{ id: "o", edge: 1 }] }));
    expect(mergeJobs(base(), mine, theirs).conflicts).toEqual(["rooms[room-1].outline"]);
    // and not where both only put openings in
    const window = changed((j) => put(j, "room-1", { openings: [{ id: "w", edge: 0 }] }));
    const { job, conflicts } = mergeJobs(base(), window, theirs);
    expect(conflicts).toEqual([]);
    expect(job.rooms[0]!.openings.map((o) => o.id).sort()).toEqual(["o", "w"]);
  });

  it("ask where both draw the same outline otherwise", () => {
    const drawn = (x: number) => changed((j) => put(j, "room-2", { outline: [[0, 0], [x, 0], [x, 3], [0, 3]] }));
    expect(mergeJobs(base(), drawn(5), drawn(6)).conflicts).toEqual(["rooms[room-2].outline"]);
  });
});

it("a document shares what says the same with the one before", () => {
  const was = base();
  const next = shared(was, changed((j) => put(j, "room-1", { room_c: 22 })));
  expect(next.rooms[1]).toBe(was.rooms[1]);
  expect(next.rooms[0]!.outline).toBe(was.rooms[0]!.outline);
  expect(next.rooms[0]!.room_c).toBe(22);
  expect(shared(was, base())).toBe(was);
});

it("no change of either is ever lost without being asked: random edits of both", () => {
  // a small generator, so that a failure comes back
  let seed = 7;
  const random = (n: number) => (seed = (Math.imul(seed, 1103515245) + 12345) >>> 0) % n;
  const fields = ["room_c", "height_m", "name"];
  for (let k = 0; k < 300; k++) {
    const edits = () => Array.from({ length: 1 + random(4) }, () => ({ id: `room-${1 + random(2)}`, field: fields[random(3)]!, value: random(1000) }));
    const [a, b] = [edits(), edits()];
    const apply = (list: typeof a) => changed((j) => list.forEach((e) => put(j, e.id, { [e.field]: e.value })));
    const { job, conflicts } = mergeJobs(base(), apply(a), apply(b));
    const last = (list: typeof a) => new Map(list.map((e) => [`${e.id}.${e.field}`, e]));
    for (const [key, e] of last(b)) {
      const mine = last(a).get(key);
      const is = (job.rooms.find((r) => r.id === e.id) as unknown as Record<string, unknown>)[e.field];
      if (!mine) expect(is).toBe(e.value);
      else if (mine.value !== e.value) expect(conflicts).toContain(`rooms[${e.id}].${e.field}`);
    }
    for (const [key, e] of last(a)) if (!last(b).has(key)) expect((job.rooms.find((r) => r.id === e.id) as unknown as Record<string, unknown>)[e.field]).toBe(e.value);
  }
});
