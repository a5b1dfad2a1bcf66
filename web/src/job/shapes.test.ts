import { describe, expect, it } from "vitest";
import type { Job, Point } from "../api/client";
import * as edit from "./edit";

function job(...outlines: Point[][]): Job {
  const rooms = outlines.map((outline, i) => ({ id: `r${i}`, name: `r${i}`, level_id: "l", use: "living", outline, height_m: 2.5, room_c: 20, above: { kind: "outside" }, below: { kind: "ground" }, walls: [], openings: [], keep_outs: [] }));
  return { levels: [{ id: "l", name: "L", floor_m: 0 }], rooms, manifolds: [], marks: [], constructions: [], build_ups: [], materials: [], site: { units: "metric" } } as unknown as Job;
}
const box = (x0: number, y0: number, x1: number, y1: number): Point[] => [[x0, y0], [x1, y0], [x1, y1], [x0, y1]];
const room = (j: Job, i: number) => j.rooms[i]!;

describe("walls that are the two sides of one", () => {
  it("are found across a wall's thickness and on to the next room", () => {
    // a over b and c: the wall of a is shared with both, and theirs with a
    const j = job(box(0, 0, 8, 4), box(0, 4.12, 4, 7), box(4.12, 4.12, 8, 7), box(0, 9, 8, 12));
    const found = edit.sharedWalls(j, "r1", 0).map((f) => `${f.room.id}/${f.wall.edge}`);
    expect(found.sort()).toEqual(["r0/2", "r1/0", "r2/0"]);
  });
  it("move together, each keeping its side", () => {
    const j = job(box(0, 0, 4, 4), box(4.12, 0, 8, 4));
    edit.moveWall(j, "r0", 1, 0.5);
    expect(room(j, 0).outline[1]).toEqual([4.5, 0]);
    expect(room(j, 1).outline[0]).toEqual([4.62, 0]);
    edit.moveWall(j, "r1", 3, 0.5, true);
    expect(room(j, 0).outline[1]).toEqual([4.5, 0]);
    // it stops before the room that it would run into
    expect(room(j, 1).outline[0]).toEqual([4.55, 0]);
  });
  it("on another level stay", () => {
    const j = job(box(0, 0, 4, 4), box(4.12, 0, 8, 4));
    room(j, 1).level_id = "other";
    edit.moveWall(j, "r0", 1, 1);
    expect(room(j, 1).outline[0]).toEqual([4.12, 0]);
  });
});

describe("rooms without right angles", () => {
  const bay: Point[] = [[0, 0], [2, 0], [3, -1], [5, -1], [6, 0], [8, 0], [8, 4], [0, 4]];
  it("keep the direction of their walls when one is moved", () => {
    const j = job(bay);
    edit.moveWall(j, "r0", 2, 0.5);
    const [a, b, c, d] = room(j, 0).outline.slice(1, 5) as [Point, Point, Point, Point];
    expect(b).toEqual([3.5, -1.5]);
    expect(c).toEqual([4.5, -1.5]);
    expect((b[1] - a[1]) / (b[0] - a[0])).toBeCloseTo(-1, 6);
    expect((d[1] - c[1]) / (d[0] - c[0])).toBeCloseTo(1, 6);
  });
  it("let an oblique corner go where it is pulled", () => {
    const j = job(bay);
    edit.moveCorner(j, "r0", 2, [3, -1.4]);
    expect(room(j, 0).outline[2]).toEqual([3, -1.4]);
    expect(room(j, 0).outline[1]).toEqual([2, 0]);
  });
});

describe("a curved wall", () => {
  it("lies on its circle, bulging to the left of the way", () => {
    const points = edit.arc([0, 0], [4, 0], 2);
    expect(points.length).toBeGreaterThan(4);
    for (const [x, y] of points) {
      expect(Math.hypot(x - 2, y)).toBeCloseTo(2, 3);
      expect(y).toBeGreaterThan(0);
    }
    expect(Math.min(...edit.arc([0, 0], [4, 0], -0.5).map((p) => p[1]))).toBeCloseTo(-0.5, 1);
  });
  it("goes from its start to its end", () => {
    const xs = edit.arc([0, 0], [4, 0], 0.7).map((p) => p[0]);
    expect([...xs].sort((a, b) => a - b)).toEqual(xs);
  });
  it("is straight without a rise", () => expect(edit.arc([0, 0], [4, 0], 0)).toEqual([]));
});

describe("a cut square to a wall", () => {
  it("ends at the nearest wall across", () => {
    const j = job([[0, 0], [6, 0], [6, 2], [3, 2], [3, 5], [0, 5]]);
    expect(edit.opposite(room(j, 0), 0, 4)).toEqual([[4, 0], [4, 2]]);
    expect(edit.opposite(room(j, 0), 0, 1)).toEqual([[1, 0], [1, 5]]);
  });
  it("meets an oblique wall where it is", () => {
    const j = job([[0, 0], [4, 0], [4, 2], [0, 4]]);
    expect(edit.opposite(room(j, 0), 0, 2)).toEqual([[2, 0], [2, 3]]);
  });
});

describe("levels", () => {
  it("are put on top or below by the height of their storey", () => {
    const j = job(box(0, 0, 4, 4));
    const up = edit.addLevel(j, false);
    const down = edit.addLevel(j, true);
    expect(j.levels.map((l) => l.id)).toEqual([down, "l", up]);
    expect(j.levels.map((l) => l.floor_m)).toEqual([-2.6, 0, 2.8]);
    const id = edit.addRoom(j, box(0, 0, 2, 2), up);
    expect(j.rooms.find((r) => r.id === id)).toMatchObject({ level_id: up, below: { kind: "outside" } });
  });
  it("go with their rooms, notes and manifolds", () => {
    const j = job(box(0, 0, 4, 4));
    edit.addManifold(j, "r0", 0, 1);
    edit.addMark(j, "l", "note", [[1, 1]]);
    edit.removeLevel(j, "l");
    expect([j.rooms, j.manifolds, j.marks, j.levels]).toEqual([[], [], [], []]);
  });
});

describe("a wall's name", () => {
  it("follows the compass, also when the plan's north is turned", () => {
    const j = job([[0, 0], [2, 0], [3, -1], [5, -1], [6, 0], [8, 0], [8, 4], [0, 4]]);
    const names = (north: number) => edit.walls(room(j, 0)).map((w) => edit.wallName(w, north));
    expect(names(0)).toEqual(["south wall", "south-west wall", "south wall", "south-east wall", "south wall", "east wall", "north wall", "west wall"]);
    expect(names(-12)[6]).toBe("north wall");
    // north to the right of the sheet: its top looks west
    expect([names(90)[6], names(90)[5], names(450)[6]]).toEqual(["west wall", "north wall", "west wall"]);
  });
});

describe("a slope", () => {
  it("is set and taken off its wall", () => {
    const j = job(box(0, 0, 4, 4));
    edit.setSlope(room(j, 0), 2, { knee_m: 1, pitch_deg: 40 });
    edit.setSlope(room(j, 0), 2, { knee_m: 0.8, pitch_deg: 40 });
    expect(room(j, 0).slopes).toEqual([{ edge: 2, knee_m: 0.8, pitch_deg: 40 }]);
    edit.setSlope(room(j, 0), 2, undefined);
    expect(room(j, 0).slopes).toEqual([]);
  });
});
