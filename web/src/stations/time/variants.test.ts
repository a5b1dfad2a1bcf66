import { expect, it } from "vitest";
import { asked, begin, nameOf, plainVariant } from "./variants";

it("a variant is named by what differs", () => {
  const name = (v: object) => nameOf({ ...plainVariant(), ...v }, (id) => `on ${id}`, (k) => `${k} K`);
  expect(name({})).toBe("thermostats");
  expect(name({ control: "reset", setback_k: 3 })).toBe("reset by the weather, 3 K cooler 22–5 h");
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
