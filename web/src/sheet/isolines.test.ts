import { describe, expect, it } from "vitest";
import { isoline, levels } from "./isolines";

const raster = { origin: [1, 2], step_m: 0.5, columns: 3, rows: 3 };

describe("isolines", () => {
  it("runs straight through a field that rises evenly", () => {
    // 0, 1, 2 from left to right: 0.5 lies half way between the first two columns
    const path = isoline(raster, [0, 1, 2, 0, 1, 2, 0, 1, 2], 0.5);
    expect(path).toBe("M1.500 2.250L1.500 2.750M1.500 2.750L1.500 3.250");
  });
  it("draws nothing where a spot is no floor, nor beside the field", () => {
    expect(isoline(raster, [0, 1, 2, 0, null, 2, 0, 1, 2], 0.5)).toBe("");
    expect(isoline(raster, [0, 1, 2, 0, 1, 2, 0, 1, 2], 7)).toBe("");
  });
  it("parts a saddle into two lines", () => {
    const path = isoline({ ...raster, columns: 2, rows: 2 }, [0, 1, 1, 0], 0.5);
    expect(path.match(/M/g)).toHaveLength(2);
  });
  it("takes whole steps, a dozen at most", () => {
    expect(levels(20.2, 23.1)).toEqual([20.5, 21, 21.5, 22, 22.5, 23]);
    expect(levels(5, 33).every((v) => v % 5 === 0)).toBe(true);
    expect(levels(20, 20)).toEqual([]);
  });
});
