import { beforeEach, expect, it } from "vitest";
import type { Job } from "../api/client";
import { store } from "./store";
import { meltOf, setMelt, setMeltUse } from "./melt";

const usually = (use: string, free_area_ratio: number, may_lie_mm: number) => ({ use, free_area_ratio, may_lie_mm, slope: 0.02 });
beforeEach(() => {
  store.library.value = { usual: { metric: { melts: [usually("house", 0.5, 3), usually("public", 0.5, 1)] } } } as never;
});

const job = () => ({ rooms: [{ id: "a" }, { id: "b", melt: { use: "ramp", free_area_ratio: 1, may_lie_mm: 0, slope: 0.1 } }] }) as unknown as Job;

it("an area of which nothing is said is a house's drive, until something is said", () => {
  const j = job();
  expect(meltOf(j.rooms[0]!)).toEqual({ use: "house", free_area_ratio: 0.5, may_lie_mm: 3, slope: 0.02 });
  setMelt(j, "a", { free_area_ratio: 1 });
  expect(j.rooms[0]!.melt).toEqual({ use: "house", free_area_ratio: 1, may_lie_mm: 3, slope: 0.02 });
});

it("another use brings its class and leaves the fall", () => {
  const j = job();
  setMeltUse(j, "b", "public");
  expect(j.rooms[1]!.melt).toEqual({ use: "public", free_area_ratio: 0.5, may_lie_mm: 1, slope: 0.1 });
  setMeltUse(j, "gone", "public");
  setMelt(j, "gone", { slope: 0 });
  expect(j.rooms).toHaveLength(2);
});

it("nothing is written before the library says what is usual", () => {
  store.library.value = undefined as never;
  const j = job();
  setMelt(j, "a", { free_area_ratio: 1 });
  setMeltUse(j, "a", "public");
  expect(j.rooms[0]!.melt).toBeUndefined();
  setMelt(j, "b", { slope: 0.05 });
  expect(j.rooms[1]!.melt).toEqual({ use: "ramp", free_area_ratio: 1, may_lie_mm: 0, slope: 0.05 });
});
