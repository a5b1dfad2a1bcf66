import { beforeEach, describe, expect, it } from "vitest";
import type { Job, PumpModel, Tube } from "../api/client";
import { store } from "../job/store";
import { addLike, choices, coverings, freeName, models, timesUsed, tubeName } from "./products";

const tube = (id: string, name: string): Tube => ({ id, name, od_m: 0.016, wall_m: 0.002, bend_radius_m: 0.08, longest_loop_m: 100 });
const job = (): Job =>
  ({
    site: { units: "metric" },
    rooms: [{ id: "r", name: "Hall", openings: [], keep_outs: [], fields: [{ id: "f", tube_id: "tube-1" }], floor: { tube_id: "tube-1", covering_id: "tile", patches: [{ covering_id: "tile" }] } }],
    manifolds: [], marks: [], constructions: [], build_ups: [], materials: [],
    tubes: [tube("tube-1", "Layered 16")],
  }) as unknown as Job;

beforeEach(() => {
  store.library.value = { tubes: [tube("pex-16x2", "16 × 2 mm")], coverings: [{ id: "tile", name: "Tile" }], pumps: [], rugs: [], usual: { metric: { sources: [{ kind: "electric", name: "Electric boiler", most_w: 1e4 }] } } } as never;
  (store.job as { value: Job | null }).value = job();
});

describe("own products", () => {
  it("stand before the library's, each under its head", () => {
    expect(choices("tubes")).toEqual([
      { value: "tube-1", text: "Layered 16", group: "Own" },
      { value: "pex-16x2", text: "16 × 2 mm", group: "Library" },
    ]);
    expect(choices("coverings")).toEqual([{ value: "tile", text: "Tile", group: undefined }]);
    expect(coverings()).toHaveLength(1);
  });

  it("are called by their names, and by their id where nobody knows them", () => {
    expect([tubeName("tube-1"), tubeName("pex-16x2"), tubeName("gone"), tubeName(undefined)]).toEqual(["Layered 16", "16 × 2 mm", "gone", ""]);
  });

  it("begin like another, with a name and an id of their own, and share nothing with it", () => {
    const draft = job();
    const like = { id: "pump-4", name: "Circulator, 4 m", most_w: 25, curve: [{ flow_l_min: 0, head_m: 4 }, { flow_l_min: 40, head_m: 0 }] } satisfies PumpModel;
    addLike(draft, "pumps", like);
    addLike(draft, "pumps", like);
    expect(draft.pumps!.map((p) => [p.id, p.name])).toEqual([["pump-1", "Circulator, 4 m, own"], ["pump-2", "Circulator, 4 m, own 2"]]);
    draft.pumps![0]!.curve[0]!.head_m = 5;
    expect(like.curve[0]!.head_m).toBe(4);
    expect(draft.pumps![1]!.curve[0]!.head_m).toBe(4);
  });

  it("do not take the id of another thing of the job", () => {
    const draft = job();
    addLike(draft, "tubes", tube("pex-16x2", "16 × 2 mm"));
    expect(draft.tubes!.map((t) => t.id)).toEqual(["tube-1", "tube-2"]);
  });

  it("of sources have names only", () => {
    const draft = job();
    addLike(draft, "sources", models("sources")[0]!.it);
    expect(draft.sources).toEqual([{ kind: "electric", name: "Electric boiler, own", most_w: 1e4 }]);
  });

  it("know how often they are used", () => {
    expect([timesUsed(job(), "tubes", "tube-1"), timesUsed(job(), "coverings", "tile"), timesUsed(job(), "pumps", "pump-1"), timesUsed(job(), "sources", undefined)]).toEqual([2, 2, 0, 0]);
  });

  it("keep their names apart", () => {
    expect(freeName([], "Tile")).toBe("Tile, own");
    expect(freeName(["Tile, own"], "Tile, own")).toBe("Tile, own 2");
    expect(freeName(["Tile, own", "Tile, own 2"], "Tile")).toBe("Tile, own 3");
  });
});
