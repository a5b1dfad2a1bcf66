// The laying log with what still waits in the browser, and pieces of a loop by length.
import { describe, expect, it } from "vitest";
import type { LayingDesign, Point, SiteFact } from "../../api/client";
import type { Waiting } from "../../offline/outbox";
import { laidFrom, progressOf, withWaiting } from "./log";
import { between } from "./path";

const LOG = {
  loops: [
    { loop_id: "l1", tag: "A1", level_id: "ground", rooms: ["Hall"], step: "not_started", coil: "K1", port_m: 1, drawn_m: 80, tolerance_m: 2, coil_used: "", wants_reason: false, reason: "", differs: false, who: "" },
    { loop_id: "l2", tag: "A2", level_id: "ground", rooms: ["Bath"], step: "fixed", coil: "K1", port_m: 82, drawn_m: 40, tolerance_m: 1.2, coil_used: "K1", wants_reason: false, reason: "", differs: false, who: "Cleo" },
  ],
  harms: [],
  pins: [],
  checks: [{ item: "every/labels", text: "Labels", about: "Every floor", done: false, who: "" }],
  open: [{ kind: "loop", id: "l1", text: "Loop A1 does not lie yet" }],
  laid_m: 40,
  all_m: 120,
  gone: [],
} as unknown as LayingDesign;
const waits = (fact: SiteFact, more: Partial<Waiting["record"]> = {}, refused?: string): Waiting => ({ job_id: "a", record: { id: "record-1", at: "2026-11-30T08:00:00Z", fact, ...more }, photos: [], who: "", refused });

describe("the log with what waits", () => {
  it("shows a loop as it was written down, and says that it waits", () => {
    const log = withWaiting(LOG, [waits({ kind: "laid", loop_id: "l1", step: "on_floor", coil: "K2", start_m: 90, end_m: 9 })]);
    expect(log.loops[0]).toMatchObject({ step: "on_floor", coil_used: "K2", used_m: 81, waits: true });
    expect([log.loops[1]!.waits, LOG.loops[0]!.step]).toEqual([undefined, "not_started"]);
  });
  it("shows ticks, harm and its correction; what was refused is as if it were not", () => {
    const kink: SiteFact = { kind: "harm", loop_id: "l2", harm: "kink", mend: "no", mark_m: 90 };
    const log = withWaiting(LOG, [waits({ kind: "ticked", item: "every/labels", done: true }), waits(kink, { note: "by the door" }), waits({ kind: "laid", loop_id: "l1", step: "seen" }, {}, "not taken")]);
    expect([log.checks[0]!.done, log.harms[0]!.tag, log.harms[0]!.note, log.loops[0]!.step]).toEqual([true, "A2", "by the door", "not_started"]);
    const back = withWaiting(log, [waits({ kind: "withdrawn" }, { corrects: "record-1" })]);
    expect(back.harms).toEqual([]);
  });
  it("a loop keeps the length that it was laid from, until it is laid again", () => {
    const [fresh, fixed] = LOG.loops;
    expect([laidFrom(fresh!), laidFrom(fixed!), laidFrom({ ...fixed!, drawn_then_m: 47 })]).toEqual([80, 40, 47]);
    expect(laidFrom({ ...fresh!, drawn_then_m: 47 })).toBe(80);
  });
  it("has a mark for the rail", () => {
    expect([progressOf(null), progressOf(LOG)]).toEqual([undefined, "needs_attention"]);
    expect(progressOf({ ...LOG, open: [] })).toBe("ok");
    expect(progressOf({ ...LOG, loops: [LOG.loops[0]!] })).toBe("not_started");
  });
});

describe("a piece of a line", () => {
  const path: Point[] = [[0, 0], [3, 0], [3, 4]];
  it("begins and ends where it is asked to", () => {
    expect(between(path, 1, 5)).toEqual([[1, 0], [3, 0], [3, 2]]);
    expect(between(path, -1, 2)).toEqual([[0, 0], [2, 0]]);
    expect(between(path, 6, 99)).toEqual([[3, 3], [3, 4]]);
  });
  it("is nothing beyond the line", () => expect(between(path, 8, 9)).toEqual([]));
});
