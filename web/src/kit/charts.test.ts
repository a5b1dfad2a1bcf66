import { expect, it } from "vitest";
import { ticks } from "./charts";

it("ticks are round in the unit that is shown", () => {
  expect(ticks("temperature", -15, 25, "metric").map((t) => t.text)).toEqual(["-10.0", "0.0", "10.0", "20.0"]);
  const us = ticks("temperature", -15, 25, "us");
  expect(us.map((t) => t.text)).toEqual(["20", "40", "60"]);
  expect(us[0]!.value).toBeCloseTo(-6.667, 2);
});
