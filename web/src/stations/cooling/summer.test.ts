import { expect, it, vi } from "vitest";

const uses = [
  { use: "hall", room_c: 18, summer: { people_m2: 0.15, equipment_w_m2: 6, from_h: 9, to_h: 21 } },
  { use: "bedroom", room_c: 18, summer: { people_m2: 0.04, equipment_w_m2: 3, from_h: 0, to_h: 24 } },
];
vi.doMock("../../job/store", () => ({ store: { library: { value: { uses } } } }));
const { clockOf, usualSummer } = await import("./summer");

it("a hall is full of people and a store of none", () => {
  expect(usualSummer("hall", 100)).toEqual({ people: 15, equipment_w: 600, from_h: 9, to_h: 21 });
  expect(usualSummer("bedroom", 14)).toEqual({ people: 0.5, equipment_w: 40, from_h: 0, to_h: 24 });
  expect(usualSummer("store", 20).people).toBe(0);
});

it("an hour of the year is a day and a time", () => {
  expect(clockOf(0)).toBe("Jan 1, 0:00");
  expect(clockOf(181 * 24 + 15)).toBe("Jul 1, 15:00");
});
