import { describe, expect, it } from "vitest";
import type { Design, Job } from "../api/client";
import { plantRemedies } from "./plantRemedies";

const emitters = (ids: string[]) => ({ id: "u", name: "Radiators", takes: { kind: "emitters", emitter_ids: ids, drop_k: 12 } });
const job = (plant: object) => ({ site: { units: "metric" }, rooms: [{ id: "r", emitters: [{ id: "e1" }] }], plant }) as unknown as Job;
const design = (buffer_l = 0) => ({ plant: { size: { buffer_l } } }) as unknown as Design;
/** The plant after the first remedy. */
function after(code: string, plant: object, of = design()) {
  const j = job(plant);
  plantRemedies(code, j, of)[0]!.edit(j);
  return j.plant!;
}

describe("remedies of the plant", () => {
  it("put the program's own order back", () => {
    expect(after("plant.order", { arrangement: "tees_in_series", order: ["b", "a"] }).order).toEqual([]);
  });

  it("decouple a source that starves, where nothing decouples it yet", () => {
    expect(after("plant.starved", { arrangement: "direct" }).arrangement).toBe("tees_in_series");
    expect(plantRemedies("plant.starved", job({ arrangement: "separator" }), design())).toEqual([]);
  });

  it("add the buffer that the core has sized, where it takes nothing else away", () => {
    expect(after("plant.cycling", { arrangement: "direct", buffer_l: 0 }, design(83.2))).toMatchObject({ arrangement: "buffer_two_pipe", buffer_l: 84 });
    expect(plantRemedies("plant.cycling", job({}), design(83.2))[0]!.words).toMatch(/^A buffer of 84\sL$/);
    expect(after("plant.cycling", { arrangement: "buffer_four_pipe", buffer_l: 50 }, design(120))).toMatchObject({ arrangement: "buffer_four_pipe", buffer_l: 120 });
    expect(plantRemedies("plant.cycling", job({ arrangement: "exchanger" }), design(83.2))).toEqual([]);
    expect(plantRemedies("plant.cycling", job({}), design())).toEqual([]);
  });

  it("take emitters off that are no longer there", () => {
    expect(after("plant.emitters_gone", { users: [emitters(["e1", "gone"])] }).users![0]!.takes).toMatchObject({ emitter_ids: ["e1"] });
  });

  it("know nothing of other findings, nor of a job without a plant", () => {
    expect(plantRemedies("plant.law", job({}), design())).toEqual([]);
    expect(plantRemedies("plant.order", { rooms: [] } as unknown as Job, design())).toEqual([]);
  });
});
