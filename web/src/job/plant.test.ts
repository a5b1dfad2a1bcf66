import { describe, expect, it } from "vitest";
import type { HeatSource, HeatUser, Job, Plant } from "../api/client";
import { addUser, beginPlant, changeSource, feedOf, feedPath, removeUser, reorder } from "./plant";

const source: HeatSource = { kind: "condensing_gas", most_w: 10_000, least_w: 2_000, most_c: 80, kv_m3_h: 2, content_l: 3 };
const plant = (): Plant => ({ source: { ...source }, arrangement: "direct" });
const tank: HeatUser = { id: "", name: "Tank", takes: { kind: "tank", volume_l: 200, store_c: 55, coil_w: 9_000, coil_supply_c: 70, coil_flow_l_min: 10 } };
const radiators: HeatUser = { id: "", name: "Radiators", takes: { kind: "emitters", emitter_ids: [], drop_k: 12 } };
const emitter = (id: string, kind: string) => ({ id, kind });
function job(): Job {
  const rooms = [{ id: "r", openings: [], keep_outs: [], emitters: [emitter("e1", "radiator"), emitter("e2", "electric_heater"), emitter("e3", "baseboard")] }];
  return { rooms, manifolds: [{ id: "m-a" }, { id: "m-b" }], constructions: [], materials: [], build_ups: [] } as unknown as Job;
}

describe("a plant", () => {
  it("begins with all manifolds on a circuit that can be fed, and shares nothing with what it came from", () => {
    const j = job();
    const from = plant();
    beginPlant(j, from);
    expect(j.circuits).toEqual([{ id: "circuit-1", name: "Floors", manifold_ids: ["m-a", "m-b"] }]);
    j.plant!.source.most_w = 1;
    expect(from.source.most_w).toBe(10_000);
    beginPlant(j, from);
    expect(j.circuits).toHaveLength(1);
  });

  it("gives each user an id of its own, and radiators all that no other user has", () => {
    const j = job();
    beginPlant(j, plant());
    expect([addUser(j, tank), addUser(j, radiators), addUser(j, radiators)]).toEqual(["user-1", "user-2", "user-3"]);
    const ids = (k: number) => (j.plant!.users![k]!.takes as { emitter_ids: string[] }).emitter_ids;
    expect(ids(1)).toEqual(["e1", "e3"]);
    expect(ids(2)).toEqual([]);
    j.plant!.order = ["user-2", "user-1"];
    removeUser(j, "user-2");
    expect(j.plant!.users!.map((u) => u.id)).toEqual(["user-1", "user-3"]);
    expect(j.plant!.order).toEqual(["user-1"]);
  });

  it("keeps the output of a source whose kind is changed", () => {
    const j = job();
    beginPlant(j, plant());
    j.plant!.source.most_w = 20_000;
    const pump: HeatSource = { ...source, kind: "heat_pump_air", least_w: 4_000, points: [{ outdoor_c: -7, water_c: 35, output_w: 10_000, cop: 2.7 }] };
    changeSource(j, "source", pump);
    expect(j.plant!.source).toMatchObject({ kind: "heat_pump_air", most_w: 20_000, least_w: 8_000, kv_m3_h: 4 });
    expect(j.plant!.source.points![0]!.output_w).toBe(20_000);
    expect(pump.points![0]!.output_w).toBe(10_000);
    changeSource(j, "second", source);
    expect(j.plant!.second!.most_w).toBe(10_000);
  });

  it("is reordered within its ends, and feeds are found by their paths", () => {
    const j = job();
    beginPlant(j, plant());
    addUser(j, tank);
    reorder(j, ["circuit-1", "user-1"], "user-1", 0);
    expect(j.plant!.order).toEqual(["user-1", "circuit-1"]);
    reorder(j, ["user-1", "circuit-1"], "user-1", 99);
    expect(j.plant!.order).toEqual(["circuit-1", "user-1"]);
    expect([feedPath(j, "circuit-1"), feedPath(j, "user-1")]).toEqual(["circuits[0].feed", "plant.users[0].feed"]);
    feedOf(j, "circuit-1").mains_m = 7;
    expect(j.circuits![0]!.feed).toEqual({ mains_m: 7 });
  });
});
