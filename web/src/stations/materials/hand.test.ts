import { describe, expect, it } from "vitest";
import type { Job, TubeCoils } from "../../api/client";
import { moveLoop, otherCoil, planAgain } from "./hand";

const cut = (loop_id: string, from_m: number, to_m: number) => ({ loop_id, tag: loop_id, drawn_m: to_m - from_m - 1, from_m, port_m: from_m + 0.5, to_m });
const coil = (coil: string, length_m: number, cuts: ReturnType<typeof cut>[]) => ({ coil, length_m, price: null, by_hand: false, cuts, left_m: length_m - (cuts.at(-1)?.to_m ?? 0), missing_m: 0, on_paper: false });
const plan = (): TubeCoils => ({
  tube_id: "pex-16x2", name: "16 × 2 mm", offered: [{ length_m: 240, price: null, stock: null }, { length_m: 120, price: null, stock: null }], objective: "waste",
  coils: [coil("K1", 240, [cut("a1", 0, 100), cut("a2", 100, 200)]), coil("K2", 120, [cut("a3", 0, 90)])],
  drawn_m: 287, thumb_m: 280, cut_m: 290, bought_m: 360, price: null, planned: 70, bound: 70, optimal: true, too_long: [], refused: null, on_paper: null,
});
const job = () => ({}) as Job;
const hand = (j: Job) => j.purchasing?.coils?.by_hand?.map((c) => [c.length_m, ...c.loop_ids]);

describe("coils filled by hand", () => {
  it("puts a loop on another coil and keeps the rest where the plan has it", () => {
    const j = job();
    moveLoop(j, plan(), "a2", 1);
    expect(hand(j)).toEqual([[240, "a1"], [120, "a3", "a2"]]);
  });

  it("opens the shortest coil that is long enough for a loop of its own, and drops a coil that is left empty", () => {
    const j = job();
    moveLoop(j, plan(), "a3", 2);
    expect(hand(j)).toEqual([[240, "a1", "a2"], [120, "a3"]]);
  });

  it("changes nothing where a loop is put on its own coil", () => {
    const j = job();
    moveLoop(j, plan(), "a1", 0);
    expect(j).toEqual({});
  });

  it("takes another coil, leaves other tubes alone, and plans again", () => {
    const j = job();
    j.purchasing = { coils: { by_hand: [{ tube_id: "pex-20x2", length_m: 300, loop_ids: ["b1"] }] } };
    otherCoil(j, plan(), 1, 240);
    expect(hand(j)).toEqual([[300, "b1"], [240, "a1", "a2"], [240, "a3"]]);
    planAgain(j, plan());
    expect(hand(j)).toEqual([[300, "b1"]]);
  });

  it("opens a coil for a loop that no coil is long enough for: the longest, and what it lacks is told", () => {
    const j = job();
    const long = { ...plan(), too_long: [{ loop_id: "a9", tag: "a9", cut_m: 260, missing_m: 20 }] };
    moveLoop(j, long, "a9", 2);
    expect(hand(j)).toEqual([[240, "a1", "a2"], [120, "a3"], [240, "a9"]]);
  });

  it("keeps the order of cutting where a loop comes and where one goes", () => {
    const j = job();
    const three = plan();
    three.coils[0]!.cuts.push(cut("a4", 200, 239));
    moveLoop(j, three, "a2", 1);
    expect(hand(j)).toEqual([[240, "a1", "a4"], [120, "a3", "a2"]]);
  });
});
