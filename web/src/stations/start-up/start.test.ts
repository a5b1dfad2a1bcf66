import { describe, expect, it } from "vitest";
import type { SiteFact, StartUpDesign } from "../../api/client";
import type { Waiting } from "../../offline/outbox";
import { progressOf, startWithWaiting } from "./start";

const served = {
  steps: [{ item: "startup/flush", name: "Flush", text: "", done: false, who: "", at: null }],
  filling: { content_l: 100, fill_pa: null, glycol_l: 30, freezing_c: -15, measured_c: -8, correct: { drain_l: 9, add_glycol_l: 9, add_water_l: 0 } },
  purge: [],
  manifolds: [{ manifold_id: "m", letter: "A", pass: 1, settled: true, remarks: ["low"], ports: [{ loop_id: "l", tag: "A1", rooms: [], shows_l_min: 1, ends_l_min: 1, design_l_min: 1, turns: null, wide_open: false, found_l_min: null, left_l_min: null, off: 0.3, why: "x" }] }],
  heat_ups: [{ build_up_id: "slab", name: "Slab", mass: "cement", wait_days: 21, rooms: [], days: [{ day: 1, supply_c: 25 }], readings: [], day: null, done: false }],
} as StartUpDesign;
const waits = (fact: SiteFact, refused?: string): Waiting => ({ job_id: "j", photos: [], who: "", refused, record: { id: "0123456789ab", at: "2026-12-01T08:00:00Z", fact } });

describe("the start-up with what still waits", () => {
  it("shows what was written down, and works nothing out from it", () => {
    const out = startWithWaiting(served, [
      waits({ kind: "ticked", item: "startup/flush", done: true }),
      waits({ kind: "filled", freezing_c: -12 }),
      waits({ kind: "meter_read", loop_id: "l", pass: 1, flow_l_min: 0.9 }),
      waits({ kind: "heat_up_read", build_up_id: "slab", supply_c: 26 }),
    ]);
    expect(out.steps[0]!.done).toBe(true);
    // the correction of an older mix does not stand beside it, nor does "that is right"
    expect([out.filling.measured_c, out.filling.correct, out.mixWaits]).toEqual([-12, null, true]);
    expect([out.manifolds[0]!.settled, out.manifolds[0]!.remarks]).toEqual([false, []]);
    expect(out.manifolds[0]!.ports[0]).toMatchObject({ left_l_min: 0.9, off: null, why: "" });
    expect(out.heat_ups[0]!.readings).toHaveLength(1);
    // and what the server has said is as it was
    expect([served.steps[0]!.done, served.filling.measured_c, served.manifolds[0]!.ports[0]!.left_l_min]).toEqual([false, -8, null]);
  });

  it("shows nothing that was not taken", () => {
    expect(startWithWaiting(served, [waits({ kind: "ticked", item: "startup/flush", done: true }, "no")]).steps[0]!.done).toBe(false);
  });

  it("marks the rail by its steps", () => {
    expect(progressOf(null)).toBeUndefined();
    expect(progressOf(served)).toBe("not_started");
    expect(progressOf({ ...served, steps: [{ ...served.steps[0]!, done: true }] })).toBe("ok");
  });
});
