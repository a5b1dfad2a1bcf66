import { describe, expect, it } from "vitest";
import { figures, NotRead, question } from "./read";

const NOW = Date.parse("2026-11-30T14:00:00Z");
const reading = (more: object) => ({ device: "gauge", quantity: "gauge_kpa", subject: "test-1", unit: "kPa", value: 400, time: "2026-11-30T14:00:00Z", ...more });

describe("readings of instruments", () => {
  it("come in the units of their makers", () => {
    const of = (more: object) => [...figures([reading(more)], NOW).figures.values()][0];
    expect(of({})).toBe(400);
    expect(of({ unit: "bar", value: 4 })).toBe(400);
    expect(of({ unit: "psi", value: 58.0151 })).toBeCloseTo(400, 3);
    expect(of({ quantity: "slab_c", unit: "°F", value: 50 })).toBeCloseTo(10, 9);
    expect(of({ quantity: "flow_l_min", unit: "gpm", value: 1 })).toBeCloseTo(3.785, 3);
    expect(of({ quantity: "hours_on", unit: "min", value: 90 })).toBe(1.5);
    expect(of({ quantity: "gurgles", unit: "1", value: 1 })).toBe(1);
  });
  it("are refused when they are none, or in a unit that nobody knows", () => {
    for (const answer of [null, {}, "400", [1], [reading({ value: "400" })], [reading({ value: NaN })], [], Array.from({ length: 2001 }, () => reading({}))]) expect(() => figures(answer, NOW)).toThrow(NotRead);
    expect(() => figures([reading({ unit: "inHg" })], NOW)).toThrow(/inHg.*kPa, Pa, bar, psi/);
  });
  it("are said to be old when they are", () => {
    expect(figures([reading({})], NOW).old).toBe(false);
    expect(figures([reading({ time: "2026-11-30T13:00:00Z" })], NOW).old).toBe(true);
  });
  it("are asked for where the instrument stands, loops with any name", () => {
    expect(question({})).toBe("");
    const q = new URLSearchParams(question({ water: "cold", house: 7, turned: [{ loop_id: "a&b", shows_l_min: 1.25 }, { loop_id: "c", shows_l_min: 2 }] }));
    expect([q.get("water"), q.get("house"), q.getAll("turned")]).toEqual(["cold", "7", ["a&b~1.25", "c~2"]]);
  });
});
