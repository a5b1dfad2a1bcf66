import { describe, expect, it } from "vitest";
import type { Room } from "../../api/client";
import { around, directionOf, DIRECTIONS, roomAt, turned } from "./place";

describe("places on the plan", () => {
  it("are looked from in one of eight directions", () => {
    for (const d of DIRECTIONS) expect([directionOf(d.deg), directionOf(turned(d.deg, 20)), directionOf(turned(d.deg, -20))]).toEqual([d.id, d.id, d.id]);
    expect([turned(350, 20), turned(10, -20), directionOf(359)]).toEqual([10, 350, "e"]);
  });
  it("are in the room that holds them, on its level", () => {
    const room = (id: string, level_id: string) => ({ id, level_id, outline: [[0, 0], [4, 0], [4, 2], [0, 2]] }) as unknown as Room;
    const rooms = [room("below", "ground"), room("above", "upper")];
    const at = (level_id: string, x: number) => roomAt(rooms, { level_id, at: [x, 1] })?.id;
    expect([at("ground", 1), at("upper", 1), at("upper", 5), roomAt(rooms, undefined)]).toEqual(["below", "above", undefined, undefined]);
  });
  it("have a plan around them", () => {
    const { x, y, width, height } = around([[0, 0], [4, 2]]);
    [x + 0.6, y + 2.6, width - 5.2, height - 3.2].forEach((off) => expect(off).toBeCloseTo(0, 9));
    expect(around([])).toEqual({ x: 0, y: 0, width: 1, height: 1 });
  });
});
