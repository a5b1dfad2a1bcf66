import { describe, expect, it } from "vitest";
import type { Design, Job, LoopDesign, Point } from "../api/client";
import * as edit from "./edit";
import * as loops from "./loops";
import { varied } from "./variants";

const floor = () => ({ build_up_id: "slab", covering_id: "tile", tube_id: "pex", spacing_core_m: 0.2, spacing_edge_m: 0.15, pattern: "auto", manifold_id: "m" });
const job = () =>
  ({
    rooms: [{ id: "a", outline: [[0, 0], [5, 0], [5, 4], [0, 4]], openings: [], keep_outs: [], walls: [], floor: floor() }],
    manifolds: [{ id: "m", letter: "A", room_id: "a", edge: 0, offset_m: 2, ports: 3 }],
    marks: [], constructions: [], materials: [], build_ups: [],
    rules: { longest_loop_m: {}, equal_loops: false },
  }) as unknown as Job;
const CORNERS: Point[] = [[2, 0], [2, 3], [3, 3], [3, 1], [2.2, 1], [2.2, 0]];
const laid = (id: string, port: number, more: Partial<LoopDesign> = {}) =>
  ({ id, port, manifold_id: "m", room_ids: ["a"], corners: CORNERS, leader_length_m: 1.23456, length_m: 10, locked: false, by_hand: false, ...more }) as LoopDesign;

describe("locked loops", () => {
  it("locks loops under ids of their own, once", () => {
    const j = job();
    const ids = loops.lock(j, [laid("a/1", 1), laid("a/2", 2)]);
    expect([...ids.values()]).toEqual(["loop-1", "loop-2"]);
    expect(j.loops).toHaveLength(2);
    loops.lock(j, [laid("s", 2, { room_ids: ["a", "b"] })]);
    expect(j.loops!.pop()).toMatchObject({ room_id: "a", also_room_ids: ["b"] });
    expect(j.loops![0]).toEqual({ id: "loop-1", manifold_id: "m", port: 1, room_id: "a", corners: CORNERS, leaders_m: 1.2346 });
    const again = loops.lock(j, [laid("loop-1", 1, { locked: true })]);
    expect(again.get("loop-1")).toBe("loop-1");
    expect(j.loops).toHaveLength(2);
    loops.unlock(j, ["loop-1"]);
    expect(j.loops!.map((l) => l.id)).toEqual(["loop-2"]);
  });

  it("turns a loop round and swaps ports", () => {
    const j = job();
    loops.lock(j, [laid("a/1", 1), laid("a/2", 2)]);
    loops.reverse(j, "loop-1");
    expect(j.loops![0]!.corners).toEqual([...CORNERS].reverse());
    expect(j.loops![0]!.by_hand).toBe(true);
    loops.toPort(j, "loop-1", 2);
    expect(j.loops!.map((l) => l.port)).toEqual([2, 1]);
    loops.toPort(j, "loop-1", 3);
    expect(j.loops!.map((l) => l.port)).toEqual([3, 1]);
    loops.toPort(j, "nobody", 1);
    loops.reverse(j, "nobody");
    expect(j.loops!.map((l) => l.port)).toEqual([3, 1]);
  });

  it("draws a loop at a free port, and none when there is none", () => {
    const j = job();
    const design = { loops: [laid("a/1", 1)] } as unknown as Design;
    const id = loops.addDrawn(j, design, "m", "a", CORNERS);
    expect(j.loops![0]).toMatchObject({ id, port: 2, by_hand: true });
    expect(loops.addDrawn(j, design, "nowhere", "a", CORNERS)).toBeNull();
    expect(loops.addDrawn(j, design, "m", "a", [[0, 0]])).toBeNull();
    for (let n = 0; n < 23; n++) expect(loops.addDrawn(j, design, "m", "a", CORNERS)).not.toBeNull();
    expect(loops.addDrawn(j, design, "m", "a", CORNERS)).toBeNull();
  });

  it("go with their room and their manifold", () => {
    for (const [kind, id] of [["room", "a"], ["manifold", "m"]] as const) {
      const j = job();
      loops.lock(j, [laid("a/1", 1)]);
      edit.remove(j, kind, id);
      expect(j.loops).toEqual([]);
      expect(j.manifolds).toEqual([]);
      expect(j.rooms[0]?.floor?.manifold_id).toBeUndefined();
    }
  });

  it("move with their room where their manifold does, and its splits too", () => {
    const j = job();
    j.manifolds.push({ ...j.manifolds[0]!, id: "n", letter: "B", room_id: "elsewhere" });
    j.rooms[0]!.floor!.splits = [[[2, 0], [2, 4]]];
    loops.lock(j, [laid("a/1", 1), laid("a/2", 1, { manifold_id: "n" })]);
    edit.moveRoom(j, "a", [1, 0.5]);
    expect(j.rooms[0]!.floor!.splits).toEqual([[[3, 0.5], [3, 4.5]]]);
    expect(j.loops!.map((l) => l.corners[1])).toEqual([[3, 3.5], CORNERS[1]]);
  });

  it("finds the run under the pointer", () => {
    expect(loops.nearestRun(CORNERS, [2.03, 1.5], 0.1)?.index).toBe(0);
    expect(loops.nearestRun(CORNERS, [2.6, 2.95], 0.1)).toMatchObject({ index: 1, length: 1 });
    expect(loops.nearestRun(CORNERS, [2.5, 2], 0.1)).toBeNull();
  });

  it("snaps a drawn corner to the lattice and square to the last", () => {
    expect(loops.onLattice([1.07, 0.93], [0, 0], 0.1, 0.2, undefined, 0.05)).toEqual([1.1, 0.9]);
    expect(loops.onLattice([1.07, 0.93], [0, 0], 0.1, 0.2, [1.04, 5], 0.05)).toEqual([1.04, 0.9]);
  });
});

describe("layouts compared", () => {
  it("changes only what the variant says, in a copy", () => {
    const j = job();
    const v = varied(j, { pattern: "serpentine", limit_m: 80 }, ["pex", "alu"]);
    expect(v.rooms[0]!.floor).toMatchObject({ pattern: "serpentine", spacing_core_m: 0.2, spacing_edge_m: 0.15 });
    expect(v.rules.longest_loop_m).toEqual({ pex: 80, alu: 80 });
    expect(v.rules.equal_loops).toBe(false);
    expect(j.rooms[0]!.floor!.pattern).toBe("auto");
    expect(varied(j, { spacing_m: 0.1, equal: true }, []).rooms[0]!.floor).toMatchObject({ spacing_core_m: 0.1, spacing_edge_m: 0.1 });
  });
});
