/** The laying log of the open job: as the server reads it, with what of it still waits in this browser. */
import { computed, ref, shallowRef, watch } from "vue";
import { answer, api, Refused, Unreachable, type LayingDesign, type LoopLaid } from "../../api/client";
import { store } from "../../job/store";
import { told } from "../../job/told";
import { shelf } from "../../offline/shelf";
import type { Waiting } from "../../offline/outbox";
import { outbox, taken } from "../../offline/waiting";

/** A loop of the log; `waits`: the last word on it is not with the server yet. */
export type LoopRow = LoopLaid & { waits?: boolean };
export type Log = Omit<LayingDesign, "loops"> & { loops: LoopRow[] };

/** The log with records that the server does not have yet: what stands in them, and nothing worked out. */
export function withWaiting(log: LayingDesign, waiting: Waiting[]): Log {
  const out: Log = { ...log, loops: [...log.loops], harms: [...log.harms], checks: [...log.checks] };
  for (const { record, refused } of waiting) {
    if (refused) continue;
    const { fact } = record;
    if (record.corrects) out.harms = out.harms.filter((h) => h.record_id !== record.corrects);
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

const served = shallowRef<LayingDesign | null>(null);
const failed = ref("");
let asked = 0;

async function load() {
  const { id } = store.state;
  const number = ++asked;
  if (!id) return void (served.value = null);
  try {
    const got = await answer(api.GET("/api/jobs/{id}/laying", { params: { path: { id } } }));
    if (number !== asked) return;
    served.value = got;
    failed.value = "";
    void shelf.put({ id, laying: got });
  } catch (e) {
    if (number !== asked) return;
    const was = e instanceof Unreachable ? (await shelf.get(id))?.laying : undefined;
    if (was) served.value ??= was;
    failed.value = served.value ? "" : e instanceof Refused ? e.problem.detail : told(e);
  }
}
const { state, sync, live } = store;
watch([() => state.id, () => state.loading], ([id], [before]) => {
  if (id !== before) served.value = null;
  if (id && !state.loading) void load();
});
// the design may have other loops now, or somebody has written something down
watch([() => sync.state.revision, () => live.state.recorded, taken], () => state.id && !state.loading && void load());

export function useLog() {
  if (!served.value && state.id && !state.loading) void load();
  const log = computed(() => served.value && withWaiting(served.value, outbox.state.waiting.filter((w) => w.job_id === state.id)));
  return { log, failed, load };
}

/** Whoever opens a job has its log at hand, also later without a network. */
export const progressOf = (log: LayingDesign | null) => {
  if (!log?.loops.length) return undefined;
  const begun = log.loops.some((l) => l.step !== "not_started") || log.checks.some((c) => c.done);
  return begun ? (log.open.length ? "needs_attention" : "ok") : "not_started";
};
export const servedLog = served;
