/** Paths lead to figures as the server names them, and the schema's ranges are those of the fields. */
import { expect, it } from "vitest";
import demo from "../../../demo/tamarack-dance-school.json";
import type { Job } from "../api/client";
import { figureAt, figureOf, heldPath, pathOf, putAt, valueAt } from "./paths";

const job = demo as unknown as Job;

it("finds figures in lists, maps and things of several kinds", () => {
  expect(figureAt("rooms[0].height_m")).toMatchObject({ quantity: "length", least: 1.5, most: 20 });
  expect(figureAt("rooms[3].openings[1].u")).toMatchObject({ quantity: "transmittance", open: true });
  expect(figureAt("rules.longest_loop_m.pex-12x1.3")).toMatchObject({ quantity: "tube", least: 10, most: 300 });
  expect(figureAt("rooms[0].floor.lattice.cross[1]")).toMatchObject({ quantity: "length", least: -1000 });
  expect(figureAt("rooms[0].below.temperature_c").quantity).toBe("temperature");
  expect(figureAt("envelope.ground.soil_w_mk").usual).toBe(2);
  expect(figureAt("manifolds[0].ports").whole).toBe(true);
  expect(figureOf("Opening.width_m")).toEqual(figureAt("rooms[0].openings[0].width_m"));
});

it("says what a figure is without the unit that the viewer may not use", () => {
  expect(figureAt("rooms[0].height_m").says).toBe("Clear height");
  expect(figureAt("site.outdoor_c").says).not.toContain("°C");
});

it("takes a path that leads nowhere for a mistake", () => {
  expect(() => figureAt("rooms[0].widht_m")).toThrow("no figure at rooms[0].widht_m");
  expect(() => figureAt("rooms")).toThrow();
  expect(() => figureOf("Opening.kind")).toThrow();
});

it("reads and puts figures where the path says", () => {
  const draft = structuredClone(job);
  const room = draft.rooms.find((r) => r.openings.length > 0)!;
  const at = heldPath(draft, "openings", room.id, room.openings[0]!.id);
  putAt(draft, `${at}.width_m`, 1.25);
  expect([room.openings[0]!.width_m, valueAt(draft, `${at}.width_m`)]).toEqual([1.25, 1.25]);
  putAt(draft, `${pathOf(draft, "rooms", room.id)}.air_changes_per_h`, undefined);
  expect("air_changes_per_h" in room).toBe(false);
  putAt(draft, "rules.longest_loop_m.pex-12x1.3", 77);
  expect(draft.rules.longest_loop_m["pex-12x1.3"]).toBe(77);
  delete draft.old_source;
  expect(valueAt(draft, "old_source.input_w")).toBeUndefined();
  expect(valueAt(draft, `${pathOf(draft, "rooms", "no such room")}.height_m`)).toBeUndefined();
});

it("puts there the parts of the job that are left out as usual, and takes a figure away again", () => {
  const draft = structuredClone(job);
  delete draft.purchasing;
  putAt(draft, "purchasing.coils.reserve.per_loop_m", 2);
  expect(draft.purchasing).toEqual({ coils: { reserve: { per_loop_m: 2 } } });
  putAt(draft, "purchasing.coils.reserve.per_loop_m", undefined);
  expect(valueAt(draft, "purchasing.coils.reserve.per_loop_m")).toBeUndefined();
  // what is usual stands in the schema
  expect(figureAt("purchasing.coils.reserve.per_loop_m").usual).toBe(1);
  expect(figureAt("purchasing.labour.lay_s_m")).toMatchObject({ quantity: "pace", usual: 30 });
});
