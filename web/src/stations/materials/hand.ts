/** Coils filled by hand: a loop taken from one coil and put on another, a coil of another length, back to the plan. */
import type { Job, TubeCoils } from "../../api/client";
import { purchasing } from "../../job/purchasing";

/** The hand's coils of a tube as the plan has them: where it starts from. */
const asPlanned = (of: TubeCoils) => of.coils.map((c) => ({ tube_id: of.tube_id, length_m: c.length_m, loop_ids: c.cuts.map((cut) => cut.loop_id) }));

function put(job: Job, of: TubeCoils, coils: ReturnType<typeof asPlanned>) {
  const choice = purchasing(job, "coils");
  const others = (choice.by_hand ?? []).filter((c) => c.tube_id !== of.tube_id);
  choice.by_hand = [...others, ...coils.filter((c) => c.loop_ids.length > 0)];
}

/** Puts a loop on a coil of the plan, by their numbers; past the last one on a new coil. Nothing changes on its own coil. */
export function moveLoop(job: Job, of: TubeCoils, loopId: string, to: number) {
  const coils = asPlanned(of);
  const from = coils.findIndex((c) => c.loop_ids.includes(loopId));
  if (from === to) return;
  const long = of.too_long.find((l) => l.loop_id === loopId);
  const cut = of.coils[from]?.cuts.find((c) => c.loop_id === loopId);
  if (coils[from]) coils[from].loop_ids = coils[from].loop_ids.filter((id) => id !== loopId);
  if (coils[to]) coils[to].loop_ids.push(loopId);
  else {
    const needs = cut ? cut.to_m - cut.from_m : (long?.cut_m ?? 0);
    // the shortest that is long enough, else the longest
    const offered = of.offered.map((o) => o.length_m).sort((a, b) => a - b);
    const length_m = offered.find((l) => l >= needs) ?? offered.at(-1);
    if (length_m === undefined) return;
    coils.push({ tube_id: of.tube_id, length_m, loop_ids: [loopId] });
  }
  put(job, of, coils);
}

/** Takes another coil for the same loops. */
export function otherCoil(job: Job, of: TubeCoils, which: number, length_m: number) {
  const coils = asPlanned(of);
  if (coils[which]) coils[which].length_m = length_m;
  put(job, of, coils);
}

/** Leaves a tube's coils to the plan again. */
export function planAgain(job: Job, of: TubeCoils) {
  put(job, of, []);
}
