/** What things start with is the core's, in the job's units. */
import { beforeEach, expect, it } from "vitest";
import type { Job, Room } from "../api/client";
import { store } from "./store";
import { freshLattice, setUse, usualFloor, usualSize } from "./usual";

const usual = (width_m: number, side_m: number) => ({
  floor: { build_up_id: "slab" },
  openings: [{ kind: "doorway", width_m, height_m: 2, sill_m: 0 }],
  squares: { kind: "squares", side_m, cross: [0, 0] },
  joists: { kind: "joists", along: "y", centres_m: 0.4, width_m: 0.045, one_m: 0 },
});
const inUnits = (units: "metric" | "us") => (store.job.value = { site: { units } } as Job);
beforeEach(() => {
  store.library.value = { usual: { metric: usual(0.9, 0.15), us: usual(0.8128, 0.1524) }, uses: [{ use: "living", room_c: 20 }, { use: "bath", room_c: 24 }] } as never;
  inUnits("metric");
});
const room = { outline: [[2, 1], [5, 1], [5, 4], [2, 4]] } as Room;

it("takes sizes of the job's units", () => {
  expect(usualSize("doorway")).toEqual([0.9, 2, 0]);
  inUnits("us");
  expect(usualSize("doorway")[0]).toBe(0.8128);
  expect(usualFloor()).toMatchObject({ build_up_id: "slab" });
});

it("lays lattices from the corner of the room, and leaves the library's as they are", () => {
  expect(freshLattice(room, "none")).toBeUndefined();
  expect(freshLattice(room, "squares")).toMatchObject({ side_m: 0.15, cross: [2.15, 1.15] });
  expect(freshLattice(room, "joists")).toMatchObject({ along: "y", one_m: 2 });
  expect(store.library.value!.usual!.metric.squares).toMatchObject({ cross: [0, 0] });
});

it("takes the temperature with the use, unless another was typed", () => {
  const bath = { use: "living", room_c: 20 } as Room;
  setUse(bath, "bath");
  expect(bath).toEqual({ use: "bath", room_c: 24 });
  bath.room_c = 23;
  setUse(bath, "living");
  expect(bath).toEqual({ use: "living", room_c: 23 });
});
