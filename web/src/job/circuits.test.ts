/** Circuits as edits. */
import { expect, it } from "vitest";
import type { Job, OwnCircuit } from "../api/client";
import { addCircuit, putOn, removeCircuit, takeOwnCircuit } from "./circuits";
import { remove } from "./edit";

const job = () =>
  ({
    rooms: [{ id: "a", openings: [], keep_outs: [], floor: { covering_id: "carpet" } }, { id: "b", openings: [], keep_outs: [], floor: {} }],
    manifolds: [{ id: "m", letter: "A" }, { id: "n", letter: "B" }],
    loops: [{ id: "l", room_id: "a", manifold_id: "m" }, { id: "k", room_id: "b", manifold_id: "m" }],
    marks: [], constructions: [], materials: [], build_ups: [],
  }) as unknown as Job;
const told = (j: Job) => (j.circuits ?? []).map((c) => `${c.name}: ${c.manifold_ids!.join()}`);

it("a manifold is on one circuit, whatever was before", () => {
  const j = job();
  const id = addCircuit(j, "n", "Upstairs");
  expect(told(j)).toEqual(["Floors: m", "Upstairs: n"]);
  putOn(j, "m", id);
  expect(told(j)).toEqual(["Floors: ", "Upstairs: n,m"]);
  putOn(j, "n", j.circuits![0]!.id);
  expect(told(j)).toEqual(["Floors: n", "Upstairs: m"]);
});

it("a circuit is fed as the rules say, and says nothing where they say what is usual", () => {
  const usual = { ...job(), rules: { mixing: "three_way", pump_control: "constant_pressure" } } as unknown as Job;
  addCircuit(usual, "n", "Upstairs");
  expect(usual.circuits!.every((c) => !("feed" in c))).toBe(true);
  const school = { ...job(), rules: { mixing: "thermostatic", pump_control: "fixed_speed" } } as unknown as Job;
  addCircuit(school, "n", "Upstairs");
  expect(school.circuits!.map((c) => c.feed)).toEqual([{ mixing: "thermostatic", pump: { control: "fixed_speed" } }, { mixing: "thermostatic", pump: { control: "fixed_speed" } }]);
});

it("a circuit deleted leaves its manifolds to the first; a job with one has none", () => {
  const j = job();
  const id = addCircuit(j, "n", "Upstairs");
  removeCircuit(j, id);
  expect(j.circuits).toEqual([]);
  const other = addCircuit(j, "n", "Upstairs");
  j.circuits![0]!.supply_c = 40;
  removeCircuit(j, other);
  expect(told(j)).toEqual(["Floors: m,n"]);
});

it("a manifold deleted leaves its circuit", () => {
  const j = job();
  addCircuit(j, "n", "Upstairs");
  remove(j, "manifold", "n");
  expect(told(j)).toEqual(["Floors: m", "Upstairs: "]);
});

it("takes a circuit as it was laid out, and gives back the loops that would hold its rooms", () => {
  const j = job();
  const own = { manifold: { id: "manifold-1", letter: "C" }, circuits: [{ id: "circuit-1", name: "Floors", manifold_ids: ["m", "n"] }, { id: "circuit-2", name: "A", manifold_ids: ["manifold-1"] }], room_ids: ["a"], served: [{ room_id: "a", manifold_id: "manifold-1" }, { room_id: "b", manifold_id: "m" }], supply_c: 46, others_c: 35 };
  takeOwnCircuit(j, own as unknown as OwnCircuit);
  expect(told(j)).toEqual(["Floors: m,n", "A: manifold-1"]);
  expect([j.rooms.map((r) => r.floor!.manifold_id), j.manifolds.length, j.loops!.map((l) => l.id)]).toEqual([["manifold-1", "m"], 3, ["k"]]);
});
