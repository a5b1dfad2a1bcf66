import { beforeEach, describe, expect, it, vi } from "vitest";
import type { BuildUp, FloorLattice, Job, Room, Variant } from "../api/client";
import * as floors from "./floors";
import { store } from "./store";

const slab = (): BuildUp => ({
  id: "slab",
  name: "Slab",
  face: "floor",
  layers: [
    { material_id: "screed-cement", thickness_m: 0.066 },
    { material_id: "eps-035", thickness_m: 0.07, insulation: true },
  ],
  tube_layer: 0,
  tube_from: "bottom",
  tube_gap_m: 0,
  supply_limit_c: 55,
});

describe("layers", () => {
  it("moves the tube with its layer", () => {
    const b = slab();
    floors.moveLayer(b, 0, 1);
    expect(b.tube_layer).toBe(1);
    expect(b.layers.map((l) => l.material_id)).toEqual(["eps-035", "screed-cement"]);
    floors.moveLayer(b, 0, 1);
    expect(b.tube_layer).toBe(0);
    floors.moveLayer(b, 0, -1);
    expect(b.layers[0]!.material_id).toBe("screed-cement");
  });

  it("keeps the tube's layer where others come and go", () => {
    const b = slab();
    floors.addLayer(b, -1, { material_id: "cork", thickness_m: 0.01 });
    expect(b.tube_layer).toBe(1);
    floors.removeLayer(b, 1);
    expect(b.layers).toHaveLength(3);
    floors.removeLayer(b, 0);
    expect(b.tube_layer).toBe(0);
    expect(b.layers[b.tube_layer]!.material_id).toBe("screed-cement");
  });

  it("holds thickness in its range and one insulation", () => {
    const b = slab();
    floors.setThickness(b, 0, -1);
    expect(b.layers[0]!.thickness_m).toBe(0.0005);
    floors.setThickness(b, 0, 0.12345678);
    expect(b.layers[0]!.thickness_m).toBe(0.1235);
    floors.setThickness(b, 9, 1);
    floors.setInsulation(b, 0, true);
    expect(b.layers.map((l) => l.insulation)).toEqual([true, false]);
    floors.setInsulation(b, 0, false);
    expect(b.layers.some((l) => l.insulation)).toBe(false);
  });
});

it("ranks by the first number that differs", () => {
  const v = (...rank: number[]) => ({ rank }) as Variant;
  expect([v(1, 0), v(0, 5, 2), v(0, 5, 1), v(2)].sort(floors.byRank).map((x) => x.rank)).toEqual([[0, 5, 1], [0, 5, 2], [1, 0], [2]]);
});

describe("own build-ups", () => {
  let job: Job;
  beforeEach(() => {
    job = {
      rooms: [
        { id: "a", openings: [], keep_outs: [], floor: { build_up_id: "slab", covering_id: "tile" }, fields: [{ id: "field-1", build_up_id: "wall", edge: 0 }] },
        { id: "b", openings: [], keep_outs: [], floor: { build_up_id: "slab", covering_id: "tile" } },
      ],
      build_ups: [],
      manifolds: [],
      constructions: [],
      materials: [],
    } as unknown as Job;
    store.library.value = { build_ups: [slab(), { ...slab(), id: "wall", face: "wall" }], usual: { metric: { ceiling_field: { id: "", build_up_id: "ceiling-board", width_m: 2, height_m: 2 } } } } as never;
    vi.spyOn(store, "edit").mockImplementation((_label, change) => void change(job));
  });

  it("copies the library's on the first change and changes the copy after that", () => {
    floors.changeBuildUp({ room: "a" }, "thicken", (b) => floors.setThickness(b, 0, 0.08));
    floors.changeBuildUp({ room: "a" }, "thicken", (b) => floors.setThickness(b, 0, 0.09));
    expect(job.build_ups).toHaveLength(1);
    expect(job.build_ups[0]).toMatchObject({ id: "build-up-1", name: "Slab, own" });
    expect(job.build_ups[0]!.layers[0]!.thickness_m).toBe(0.09);
    expect(job.rooms[0]!.floor!.build_up_id).toBe("build-up-1");
    expect(job.rooms[1]!.floor!.build_up_id).toBe("slab");
    floors.changeBuildUp({ room: "a", field: 0 }, "thicken", (b) => floors.setThickness(b, 0, 0.03));
    expect(job.rooms[0]!.fields![0]!.build_up_id).toBe("build-up-2");
  });

  it("takes a variant with its build-up once, and a remedy's field under a new id", () => {
    const choice = { floor: { build_up_id: "slab", covering_id: "carpet" }, build_up: { ...slab(), id: "", name: "Slab, tube 20 mm deep" } };
    floors.takeVariant("a", { choice } as unknown as Variant);
    floors.takeVariant("b", { choice } as unknown as Variant);
    expect(job.build_ups).toHaveLength(1);
    expect(job.rooms.map((r) => r.floor!.build_up_id)).toEqual(["build-up-1", "build-up-1"]);
    floors.takeRemedy("a", { field: { id: "", build_up_id: "wall", width_m: 2, height_m: 1 } } as never);
    expect(job.rooms[0]!.fields!.map((f) => f.id)).toEqual(["field-1", "field-2"]);
    // a spacing that was tried before the tube was changed leaves the tube alone
    Object.assign(job.rooms[0]!.floor!, { tube_id: "pex-20x2", spacing_core_m: 0.2, spacing_edge_m: 0.15 });
    const tried = { tube_id: "pex-16x2", covering_id: "tile", spacing_core_m: 0.1, spacing_edge_m: 0.1 };
    floors.takeRemedy("a", { kind: "spacing", floor: tried } as never);
    expect(job.rooms[0]!.floor).toMatchObject({ tube_id: "pex-20x2", covering_id: "carpet", spacing_core_m: 0.1, spacing_edge_m: 0.1 });
    floors.takeRemedy("a", { kind: "covering", floor: { ...tried, spacing_core_m: 0.3 } } as never);
    expect(job.rooms[0]!.floor).toMatchObject({ covering_id: "tile", spacing_core_m: 0.1 });
    floors.takeRemedy("a", { kind: "backup", emitter: { id: "", kind: "electric_heater", beside_w: 280 } } as never);
    expect(job.rooms[0]!.emitters).toEqual([{ id: "emitter-1", kind: "electric_heater", beside_w: 280 }]);
    floors.addField("b", undefined);
    expect(job.rooms[1]!.fields![0]).toEqual({ id: "field-3", edge: undefined, build_up_id: "ceiling-board", width_m: 2, height_m: 2 });
  });
});

describe("lattices", () => {
  const room = (outline: [number, number][], lattice: FloorLattice) => ({ outline, floor: { lattice } }) as unknown as Room;
  it("draw each joist within the room, twice where the room has a notch", () => {
    const joists: FloorLattice = { kind: "joists", along: "y", centres_m: 1, width_m: 0.1, one_m: 0.5 };
    const u: [number, number][] = [[0, 0], [3, 0], [3, 1], [1, 1], [1, 2], [3, 2], [3, 3], [0, 3]];
    const drawn = floors.joists(room(u, joists));
    expect(drawn.map((j) => [j[0], j[2]])).toEqual([
      [[0.45, 0], [0.55, 3]],
      [[1.45, 0], [1.55, 1]],
      [[1.45, 2], [1.55, 3]],
      [[2.45, 0], [2.55, 1]],
      [[2.45, 2], [2.55, 3]],
    ]);
    const across = floors.joists(room([[0, 0], [3, 0], [3, 2], [0, 2]], { ...joists, along: "x" } as FloorLattice));
    expect(across.map((j) => j[0]![1])).toEqual([0.45, 1.45]);
    expect(floors.joists(room(u, { kind: "squares", side_m: 0.15, cross: [0, 0] }))).toEqual([]);
  });
});
