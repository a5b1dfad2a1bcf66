import { describe, expect, it } from "vitest";
import type { MaterialsDesign } from "../../api/client";
import { cautionsOf } from "./cautions";

const place = (kind: string, along_m: number, name = "", loop_id = "a") => ({ kind, along_m, name, loop_id, at: [0, 0] });
const counted = {
  saw_cuts: [{ loop_id: "a", along_m: 4, tube_depth_m: 0.084 }, { loop_id: "b", along_m: 1, tube_depth_m: 0.02 }],
  cautions: [place("doorway", 2), place("bolt_down", 9, "Barre post"), place("doorway", 40), place("column", 12, ""), place("doorway", 3, "", "b")],
} as unknown as Pick<MaterialsDesign, "saw_cuts" | "cautions">;

describe("what to take care of along a loop", () => {
  const of = (loop: string, from = 0) => cautionsOf(counted, loop, from, (m) => `${m} m`, (m) => `${m * 1000} mm`);

  it("is told kind by kind with the length at each place", () => expect(of("a")).toEqual(["saw cut: sleeves at 4 m, 84 mm deep", "doorway at 2 m, 40 m", "bolt-down spot Barre post at 9 m", "column at 12 m"]));
  it("counts from the mark at the port", () => expect(of("b", 100)).toEqual(["saw cut: sleeves at 101 m, 20 mm deep", "doorway at 103 m"]));
  it("is nothing where nothing is met", () => expect(of("c")).toEqual([]));
});
