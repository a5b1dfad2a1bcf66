import { describe, expect, it } from "vitest";
import type { Expected } from "../../api/client";
import { grouped, SHOWN } from "./visit";

const expected = (quantity: Expected["quantity"], subject: string, name = subject): Expected => ({ quantity, subject, name, value: 1 });

describe("what can be read", () => {
  it("stands with what it is of, the house first, then where it is cold", () => {
    const groups = grouped([
      expected("room_c", "studio"),
      expected("flow_l_min", "studio/1", "A1"),
      expected("valve_open", "studio/1", "A1"),
      expected("flow_l_min", "", "Floors"),
      expected("supply_c", "source", "Source"),
      expected("outdoor_c", "", ""),
      expected("surface_c", "studio"),
    ]);
    expect(groups.map((g) => [g.name, g.rows.map((r) => r.fields.length)])).toEqual([
      ["House", [1]],
      ["Rooms", [2]],
      ["Plant and manifolds", [1, 1]],
      ["Loops", [2]],
    ]);
  });

  it("is either a figure with its quantity or an answer", () => {
    for (const [name, of] of Object.entries(SHOWN)) expect(Boolean(of.quantity) !== Boolean(of.yes), name).toBe(true);
  });
});
