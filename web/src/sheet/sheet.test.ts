import { describe, expect, it } from "vitest";
import type { Job, LoopDesign, Point } from "../api/client";
import { addRoom, rectangle } from "../job/edit";
import { nearestWall, snap } from "./snap";
import { arrows, stretches, tagPlaces, waterColour, waterRange } from "./water";
import { useView } from "./view";

function job(...boxes: [Point, Point][]): Job {
  const made = { levels: [{ id: "g", name: "G" }], site: { units: "metric" }, rooms: [], manifolds: [], marks: [], constructions: [], build_ups: [], materials: [] } as unknown as Job;
  boxes.forEach(([a, b]) => addRoom(made, rectangle(a, b)));
  return made;
}

describe("snapping", () => {
  const two = job([[0, 0], [4.23, 3.17]]);
  it("meets corners, and a partition's thickness off them", () => {
    expect(snap(two, [4.2, 3.14], 0.1, "metric").at).toEqual([4.23, 3.17]);
    expect(snap(two, [4.33, 1.52], 0.05, "metric")).toMatchObject({ at: [4.35, 1.5], x: 4.35, y: null });
  });
  it("falls back to the grid of the unit system", () => {
    expect(snap(two, [8.023, 9.011], 0.1, "metric").at).toEqual([8, 9]);
    const [x] = snap(two, [8.02, 9.01], 0.1, "us").at;
    expect((x / 0.0254) % 1).toBeCloseTo(0, 2);
  });
  it("meets the corners of the storey below", () => {
    expect(snap(two, [6.66, 5.04], 0.1, "metric", undefined, [[6.61, 5.03]])).toMatchObject({ at: [6.61, 5.03], x: 6.61, y: 5.03 });
  });
  it("leaves out the room that is being moved", () => {
    expect(snap(two, [4.22, 9], 0.1, "metric", two.rooms[0]!.id).x).toBeNull();
  });
});

describe("the nearest wall", () => {
  const rooms = job([[0, 0], [4, 3]], [[4.12, 0], [8, 3]]);
  it("belongs to the room in which the point lies", () => {
    expect(nearestWall(rooms, [3.99, 1], 0.3)).toMatchObject({ room: "room-1", along: 1 });
    expect(nearestWall(rooms, [4.13, 1], 0.3)).toMatchObject({ room: "room-2" });
  });
  it("is none in the middle of a room", () => {
    expect(nearestWall(rooms, [2, 1.5], 0.3)).toBeNull();
  });
});

describe("the view", () => {
  it("goes from plan to screen and back", () => {
    const v = useView();
    v.fit([[0, 0], [20, 12]]);
    for (const p of [[0, 0], [20, 12], [3.3, 7.7]] as Point[]) {
      const [x, y] = v.toScreen(p);
      expect(x).toBeGreaterThanOrEqual(0);
      expect(y).toBeLessThanOrEqual(v.view.height);
      const back = v.toPlan([x, y]);
      expect(back[0]).toBeCloseTo(p[0], 9);
      expect(back[1]).toBeCloseTo(p[1], 9);
    }
  });
  it("zooms about the pointer and pans with it", () => {
    const v = useView();
    const under = v.toPlan([100, 100]);
    v.zoom(2, [100, 100]);
    expect(v.toPlan([100, 100])[0]).toBeCloseTo(under[0], 9);
    v.pan(30, -10);
    expect(v.toPlan([130, 90])[0]).toBeCloseTo(under[0], 9);
    expect(v.toPlan([130, 90])[1]).toBeCloseTo(under[1], 9);
    for (let k = 0; k < 100; k++) v.zoom(10);
    expect(v.view.scale).toBeLessThanOrEqual(600);
  });
  it("shows an empty sheet at a useful scale", () => {
    const v = useView();
    v.fit([]);
    expect(v.view.scale).toBe(60);
  });
});

describe("water on the sheet", () => {
  const loop = {
    id: "l",
    tag: "A1",
    path: [[0, 0], [10, 0], [10, 1], [0, 1]],
    path_c: [40, 35, 34.5, 30],
    supply_c: 40,
    return_c: 30,
  } as unknown as LoopDesign;
  it("is one unbroken line in stretches, the way back marked", () => {
    const parts = stretches(loop, 30, 40);
    expect(parts[0]!.points.startsWith("0,0")).toBe(true);
    expect(parts.at(-1)!.points.endsWith("0,1")).toBe(true);
    for (let i = 1; i < parts.length; i++) expect(parts[i]!.points.split(" ")[0]).toBe(parts[i - 1]!.points.split(" ").at(-1));
    expect(parts[0]!.back).toBe(false);
    expect(parts.at(-1)!.back).toBe(true);
  });
  it("has one colour when all of it is equally warm", () => {
    expect(new Set(stretches({ ...loop, path_c: [35, 35, 35, 35] } as LoopDesign, 35, 35).map((s) => s.colour)).size).toBe(1);
  });
  it("runs from the cool to the hot end of the ramp", () => {
    expect(waterColour(0)).toBe("rgb(58 76 140)");
    expect(waterColour(1)).toBe("rgb(200 74 28)");
    expect(waterColour(7)).toBe(waterColour(1));
    expect(waterRange([loop])).toEqual([30, 40]);
    expect(waterRange([])).toEqual([20, 40]);
  });
  it("has arrows with the flow", () => {
    const a = arrows(loop, 5);
    expect(a.length).toBeGreaterThan(0);
    expect(a[0]!.heading).toBe(0);
    expect(Math.abs(a.at(-1)!.heading)).toBe(180);
  });
  it("has a tag of its own for each loop, apart from the others", () => {
    const other = { ...loop, id: "m", tag: "A2" } as LoopDesign;
    const [a, b] = tagPlaces([loop, other]);
    expect(Math.hypot(a!.at[0] - b!.at[0], a!.at[1] - b!.at[1])).toBeGreaterThan(1);
  });
});
