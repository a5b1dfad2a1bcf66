import { expect, it } from "vitest";
import { asked, begin, hoursOf, nameOf, plainVariant, selfLimiting } from "./variants";

it("a variant is named by what differs", () => {
  const name = (v: object) => nameOf({ ...plainVariant(), ...v }, { buildUp: (id) => `on ${id}`, covering: (id) => id, kelvin: (k) => `${k} K` });
  expect(name({})).toBe("thermostats");
  expect(name({ control: "reset", setback_k: 3 })).toBe("reset by the weather, 3 K cooler 22–5 h");
  expect(name({ sun: 0 })).toBe("thermostats, curtains drawn");
  expect(name({ sun: 0.5 })).toBe("thermostats, 50 % of the sun");
  expect(name({ covering_id: "carpet" })).toBe("thermostats, under carpet");
  expect(name({ build_up_id: "panel", cut_h: [24, 48] })).toBe("thermostats, on panel, no power 24–48 h");
});

it("what is asked stays with its job", () => {
  begin("a");
  asked.variants.pop();
  begin("a");
  expect(asked.variants).toHaveLength(1);
  begin("b");
  expect(asked.variants).toHaveLength(2);
});

it("hours are told as people tell them", () => {
  expect([hoursOf(null), hoursOf(7.24), hoursOf(60)]).toEqual(["not in this time", "7.2 h", "2.5 days"]);
});

it("the height of the sun is held against the hour before it rose", () => {
  const point = (h: number, sun_w: number, water_w: number, felt_c: number) => ({ time_s: h * 3600, sun_w, water_w, felt_c, outdoor_c: 0, air_c: felt_c, heat_w: water_w, supply_c: water_w ? 40 : null, rooms_felt_c: [] });
  const course = [point(1, 0, 700, 20), point(6, 0, 600, 20), point(9, 400, 500, 21), point(12, 900, 300, 22), point(15, 200, 350, 23), point(18, 0, 500, 21)];
  expect(selfLimiting(course)).toEqual({ sun_w: 900, noon_w: 300, dawn_w: 600, shut: false, felt_c: 23 });
  expect(selfLimiting([point(6, 0, 600, 20), point(12, 900, 0, 22)])).toMatchObject({ dawn_w: 600, noon_w: 0, shut: true });
  expect(selfLimiting([])).toBeNull();
  expect(selfLimiting([point(1, 0, 700, 20)])).toBeNull();
});
