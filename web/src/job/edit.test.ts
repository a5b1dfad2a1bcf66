import { describe, expect, it } from "vitest";
import * as edit from "./edit";
import type { Floor, Job } from "../api/client";

const blank = (): Job =>
  ({
    levels: [{ id: "ground", name: "Ground floor" }],
    site: { units: "metric" },
    rooms: [],
    manifolds: [],
    marks: [],
    constructions: [], build_ups: [],
    materials: [],
  }) as unknown as Job;

const TILED = { build_up_id: "slab", covering_id: "tile", tube_id: "pex-16x2", spacing_core_m: 0.2, spacing_edge_m: 0.2, pattern: "auto" } as Floor;

function withRoom() {
  const job = blank();
  const id = edit.addRoom(job, edit.rectangle([0, 0], [5, 4]), undefined, TILED);
  return { job, id, room: job.rooms[0]! };
}

describe("rooms", () => {
  it("get ids and names of their own and the floor of the room before", () => {
    const { job, room } = withRoom();
    room.floor!.covering_id = "carpet";
    edit.addRoom(job, edit.rectangle([5, 0], [8, 4]));
    expect(new Set(job.rooms.map((r) => r.id)).size).toBe(2);
    expect(job.rooms[1]!.floor!.covering_id).toBe("carpet");
  });
  it("share nothing with the room before: what is chosen for one stays with it", () => {
    const { job, room } = withRoom();
    Object.assign(room, { above: { kind: "unheated", temperature_c: 5 }, below: { kind: "unheated", temperature_c: 8 } });
    edit.addRoom(job, edit.rectangle([5, 0], [8, 4]));
    const second = job.rooms[1]!;
    expect([second.above, second.below]).toEqual([room.above, room.below]);
    second.floor!.covering_id = "carpet";
    (second.above as { temperature_c: number }).temperature_c = 1;
    (second.below as { temperature_c: number }).temperature_c = 2;
    expect([room.floor!.covering_id, room.above, room.below]).toEqual(["tile", { kind: "unheated", temperature_c: 5 }, { kind: "unheated", temperature_c: 8 }]);
  });
  it.each([
    [[4, 3.5], [5, 4]],
    [[1, 3.5], [0, 4]],
    [[4, 0.5], [5, 0]],
    [[1, 0.5], [0, 0]],
  ] as [edit.Point, edit.Point][])("an L with its notch at %s loses the corner %s", (notch, corner) => {
    const outline = edit.lShape([0, 0], [5, 4], notch);
    expect(outline).toHaveLength(6);
    expect(outline).not.toContainEqual(corner);
    const lost = Math.abs(corner[0] - notch[0]) * Math.abs(corner[1] - notch[1]);
    expect(edit.area(outline)).toBeCloseTo(20 - lost, 9);
  });
  it("keep what hangs on a neighbour wall where it is when a wall moves", () => {
    const { job, id, room } = withRoom();
    edit.addOpening(job, id, 1, 2, { kind: "window", width_m: 1, height_m: 1 });
    edit.addManifold(job, id, 3, 1);
    // the south wall moves outward by 1 m: the east wall starts 1 m lower
    edit.moveWall(job, id, 0, 1);
    expect(room.outline[0]).toEqual([0, -1]);
    expect(room.openings[0]!.offset_m).toBeCloseTo(2.5, 9);
    expect(job.manifolds[0]!.offset_m).toBe(1);
  });
  it("stay square when a corner is dragged", () => {
    const { job, id, room } = withRoom();
    edit.moveCorner(job, id, 2, [6, 5]);
    expect(room.outline).toEqual([[0, 0], [6, 0], [6, 5], [0, 5]]);
  });
  it("take a typed wall length", () => {
    const { job, id, room } = withRoom();
    edit.setWallLength(job, id, 0, 4.2);
    expect(room.outline).toEqual([[0, 0], [4.2, 0], [4.2, 4], [0, 4]]);
    edit.setWallLength(job, id, 3, 3);
    expect(edit.walls(room)[3]!.length).toBeCloseTo(3, 9);
  });
  it("name their walls by where they look, whichever way they were drawn", () => {
    const { room } = withRoom();
    expect(edit.walls(room).map(edit.wallName)).toEqual(["south wall", "east wall", "north wall", "west wall"]);
    room.outline.reverse();
    expect(new Set(edit.walls(room).map(edit.wallName)).size).toBe(4);
  });
});

describe("things in rooms", () => {
  it("an opening stays within its wall", () => {
    const { job, id, room } = withRoom();
    edit.addOpening(job, id, 0, 4.9, { kind: "window", width_m: 1.2, height_m: 1, sill_m: 0.9 });
    expect(room.openings[0]!.offset_m).toBeCloseTo(3.8, 9);
  });
  it("go with their room when it is moved or deleted", () => {
    const { job, id, room } = withRoom();
    edit.addKeepOut(job, id, [2, 2], [1, 1]);
    edit.addManifold(job, id, 0, 2);
    edit.moveRoom(job, id, [1, -1]);
    expect(room.keep_outs[0]).toMatchObject({ x0_m: 2, y0_m: 0, x1_m: 3, y1_m: 1 });
    edit.remove(job, "room", id);
    expect(job.rooms).toHaveLength(0);
    expect(job.manifolds).toHaveLength(0);
  });
  it("a wall without anything to say is not listed", () => {
    const { room } = withRoom();
    edit.setWall(room, 0, { beyond: { kind: "ground" } });
    edit.setWall(room, 0, { u: 0.3 });
    expect(room.walls).toEqual([{ edge: 0, beyond: { kind: "ground" }, u: 0.3 }]);
    edit.setWall(room, 0, { beyond: undefined, u: undefined });
    expect(room.walls).toHaveLength(0);
  });
});
