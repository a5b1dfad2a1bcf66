import { describe, expect, it } from "vitest";
import type { RigTrial } from "../api/client";
import { better, clock, withMove } from "./practice";

const trial: RigTrial = { lesson: "balance", version: 1, seed: 0, moves: [], now_s: 60 };

describe("moves on the rig", () => {
  it("are one while a hand drags, and two when time has passed or it is another screw", () => {
    const one = withMove(withMove(trial, { what: "valve", port: 1, turns: 2 }), { what: "valve", port: 1, turns: 1.5 });
    expect(one.moves).toEqual([{ at_s: 60, hand: { what: "valve", port: 1, turns: 1.5 } }]);
    expect(withMove(one, { what: "valve", port: 2, turns: 1 }).moves).toHaveLength(2);
    expect(withMove({ ...one, now_s: 90 }, { what: "valve", port: 1, turns: 1 }).moves).toHaveLength(2);
  });
  it("that open a vent twice are two", () => {
    const once = withMove(trial, { what: "vent", port: 1 });
    expect(withMove(once, { what: "vent", port: 1 }).moves).toHaveLength(2);
  });
});

describe("what is kept of a lesson", () => {
  it("is the fewest moves, then the fewest hints", () => {
    const old = { moves: 3, best: 1, hints: 0, at_s: 600 };
    expect(better(undefined, old)).toBe(old);
    expect(better(old, { ...old, moves: 2, hints: 3 }).moves).toBe(2);
    expect(better(old, { ...old, hints: 1 })).toBe(old);
  });
  it("has a clock that people read", () => {
    expect(clock(60)).toBe("day 1, 00:01");
    expect(clock(86_400 + 3600 * 13 + 125)).toBe("day 2, 13:02");
  });
});
