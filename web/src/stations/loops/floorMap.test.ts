import { describe, expect, it } from "vitest";
import type { RoomMap } from "../../api/client";
import { scalesFor, scaleText } from "../papers/scale";
import { ramp } from "../../sheet/ramp";
import { rangeOf } from "./floorMap";

const map = (surface_c: (number | null)[]): RoomMap => ({ origin: [0, 0], step_m: 0.1, columns: surface_c.length, rows: 1, distance_m: surface_c.map(() => 0.1), surface_c });

describe("maps of the floor", () => {
  it("span the surfaces there are, and a kelvin over the limit at least", () => {
    expect(rangeOf(map([22, null, 26]), "surface", 29)).toEqual([22, 30]);
    expect(rangeOf(map([22, null, 33.5]), "surface", 29)).toEqual([22, 33.5]);
    expect(rangeOf(map([null]), "surface", 29)).toEqual([20, 30]);
    expect(rangeOf(map([22]), "distance", 29)).toEqual([0, 0.4]);
  });

  it("go from light to dark and stop at their ends", () => {
    const lightness = (of: "distance" | "surface", x: number) => ramp(of, x).reduce((a, v, k) => a + v * [0.3, 0.59, 0.11][k]!, 0);
    for (const of of ["distance", "surface"] as const) {
      expect(ramp(of, -1)).toEqual(ramp(of, 0));
      expect(ramp(of, 9)).toEqual(ramp(of, 1));
      expect(lightness(of, 1)).toBeLessThan(0.4 * lightness(of, 0));
    }
    // far from tube gets darker all the way, so that grey paper tells it too
    for (let k = 0; k < 10; k++) expect(lightness("distance", (k + 1) / 10)).toBeLessThan(lightness("distance", k / 10));
  });
});

describe("scales", () => {
  it("are told as the trade tells them", () => {
    expect(scaleText(50, "metric")).toBe("1:50");
    expect(scaleText(48, "us")).toBe(`1:48 (1/4" = 1')`);
    for (const units of ["metric", "us"] as const) expect(scalesFor(units)).toEqual([...scalesFor(units)].sort((a, b) => a - b));
  });
});
