/** The laying log of the open job: as the server reads it, with what of it still waits in this browser. */
import { computed } from "vue";
import { answer, api, type LayingDesign, type LoopLaid } from "../../api/client";
import { store } from "../../job/store";
import type { Waiting } from "../../offline/outbox";
import { servedOf } from "../../offline/served";
import { outbox } from "../../offline/waiting";

/** A loop of the log; `waits`: the last word on it is not with the server yet. */
export type LoopRow = LoopLaid & { waits?: boolean };
export type Log = Omit<LayingDesign, "loops"> & { loops: LoopRow[] };

/** The log with records that the server does not have yet: what stands in them, and nothing worked out. */
export function withWaiting(log: LayingDesign, waiting: Waiting[]): Log {
  const out: Log = { ...log, loops: [...log.loops], harms: [...log.harms], pins: [...log.pins], checks: [...log.checks] };
  for (const { record, refused } of waiting) {
    if (refused) continue;
    const { fact } = record;
    if (record.corrects) out.harms = out.harms.filter((h) => h.record_id !== record.corrects);
    if (record.corrects) out.pins = out.pins.filter((p) => p.record_id !== record.corrects);
    if (record.place && fact.kind !== "harm") out.pins.push({ record_id: record.id, spot: record.place, note: record.note ?? "", photos: record.photos ?? [], at: record.at, who: "" });
    if (fact.kind === "laid") {
      out.loops = out.loops.map((l) => {
        if (l.loop_id !== fact.loop_id) return l;
        const used = fact.start_m != null && fact.end_m != null ? Math.abs(fact.end_m - fact.start_m) : null;
        return { ...l, step: fact.step, coil_used: fact.coil ?? "", start_m: fact.start_m ?? null, end_m: fact.end_m ?? null, used_m: used, reason: fact.reason ?? "", at: record.at, waits: true };
      });
    } else if (fact.kind === "ticked") out.checks = out.checks.map((c) => (c.item === fact.item ? { ...c, done: fact.done, at: record.at } : c));
    else if (fact.kind === "differs") out.loops = out.loops.map((l) => (l.loop_id === fact.loop_id ? { ...l, differs: true, waits: true } : l));
    else if (fact.kind === "harm") {
      const on = out.loops.find((l) => l.loop_id === fact.loop_id);
      const harm = { loop_id: fact.loop_id, harm: fact.harm, mend: fact.mend, mark_m: fact.mark_m ?? null };
      out.harms.push({ record_id: record.id, harm, tag: on?.tag ?? "", position: record.place?.at ?? null, level_id: on?.level_id ?? "", note: record.note ?? "", photos: record.photos ?? [] });
    }
  }
  return out;
}

const { served, failed, look } = servedOf("laying", (id) => answer(api.GET("/api/jobs/{id}/laying", { params: { path: { id } } })));

export function useLog() {
  look();
  const log = computed(() => served.value && withWaiting(served.value, outbox.state.waiting.filter((w) => w.job_id === store.state.id)));
  return { log, failed };
}

/** The length of the design that a loop was laid from: later words on it do not make it another one's. */
export const laidFrom = (l: LoopRow): number => (l.step === "not_started" ? l.drawn_m : (l.drawn_then_m ?? l.drawn_m));

/** The mark of the rail. */
export const progressOf = (log: LayingDesign | null) => {
  if (!log?.loops.length) return undefined;
  const begun = log.loops.some((l) => l.step !== "not_started") || log.checks.some((c) => c.done);
  return begun ? (log.open.length ? "needs_attention" : "ok") : "not_started";
};
export const servedLog = served;
