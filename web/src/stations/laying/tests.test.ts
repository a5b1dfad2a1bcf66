// Pressure tests with records that still wait in the browser.
import { describe, expect, it } from "vitest";
import type { PressureTests, SiteFact } from "../../api/client";
import type { Waiting } from "../../offline/outbox";
import { testsWithWaiting } from "./tests";

const begun: SiteFact = { kind: "test_begun", name: "Manifold B", test: { medium: "air", volume_l: 30, gauge: { resolution_kpa: 2, range_kpa: 600 }, required: { pressure_kpa: 300, hours: 12 }, barometer_kpa: 100 } };
const SERVED = { tests: [{ id: "test-one", begun, at: "2026-11-30T08:00:00Z", readings: [], result: null, trouble: "", sudden: null, signed: [] }], contents: [] } as unknown as PressureTests;
const waits = (id: string, fact: SiteFact, refused?: string): Waiting => ({ job_id: "a", record: { id, at: "2026-11-30T09:00:00Z", fact }, photos: [], who: "", refused });

describe("pressure tests with what waits", () => {
  it("shows readings and names that are not sent, and a test that began without a network", () => {
    const rows = testsWithWaiting(SERVED, [
      waits("reading-1", { kind: "test_read", test: "test-one", gauge_kpa: 380 }),
      waits("test-two", begun),
      waits("reading-2", { kind: "test_read", test: "test-two", gauge_kpa: 390 }),
      waits("signed-1", { kind: "test_signed", test: "test-two", name: "C. Ember", part: "installer", strokes: [] }),
    ]);
    expect(rows.map((t) => [t.id, t.readings.map((r) => r.read.gauge_kpa), t.signed.length, t.waits])).toEqual([
      ["test-one", [380], 0, 1],
      ["test-two", [390], 1, 3],
    ]);
    expect(SERVED.tests[0]!.readings).toEqual([]);
  });
  it("leaves out what was not taken, and readings of no test", () => {
    const rows = testsWithWaiting(SERVED, [waits("reading-1", { kind: "test_read", test: "test-one", gauge_kpa: 380 }, "no"), waits("reading-2", { kind: "test_read", test: "nowhere", gauge_kpa: 1 })]);
    expect(rows).toEqual(SERVED.tests);
  });
});
