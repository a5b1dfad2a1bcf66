/** The start-up of the open job: as the server works it out, with what of it still waits in this browser. */
import { computed } from "vue";
import { answer, api, type StartUpDesign } from "../../api/client";
import { store } from "../../job/store";
import type { Waiting } from "../../offline/outbox";
import { servedOf } from "../../offline/served";
import { outbox } from "../../offline/waiting";

/** The start-up; `mixWaits`: what was measured of the mix is not with the server yet. */
export type Started = StartUpDesign & { mixWaits?: boolean };

/** What is written down and waits stands where it belongs; nothing is worked out from it. */
export function startWithWaiting(served: StartUpDesign, waiting: Waiting[]): Started {
  const out: Started = { ...served, steps: [...served.steps], manifolds: [...served.manifolds], heat_ups: [...served.heat_ups], filling: { ...served.filling } };
  for (const { record, refused } of waiting) {
    if (refused) continue;
    const { fact, at } = record;
    if (fact.kind === "ticked") out.steps = out.steps.map((s) => (s.item === fact.item ? { ...s, done: fact.done, at, who: "" } : s));
    else if (fact.kind === "filled" && fact.freezing_c != null) {
      Object.assign(out.filling, { measured_c: fact.freezing_c, correct: null });
      out.mixWaits = true;
    }
    else if (fact.kind === "meter_read") {
      out.manifolds = out.manifolds.map((m) => ({
        ...m,
        ...(m.ports.some((p) => p.loop_id === fact.loop_id) && fact.pass > 0 ? { settled: false, remarks: [] } : {}),
        ports: m.ports.map((p) => (p.loop_id !== fact.loop_id ? p : fact.pass === 0 ? { ...p, found_l_min: fact.flow_l_min } : { ...p, left_l_min: fact.flow_l_min, off: null, why: "" })),
      }));
    } else if (fact.kind === "heat_up_read") {
      const reading = { at, who: "", day: 0, supply_c: fact.supply_c, wanted_c: null, off: false, moisture_percent: fact.moisture_percent ?? null };
      out.heat_ups = out.heat_ups.map((h) => (h.build_up_id === fact.build_up_id ? { ...h, readings: [...h.readings, reading] } : h));
    }
  }
  return out;
}

const { served, failed, look } = servedOf("startUp", (id) => answer(api.GET("/api/jobs/{id}/start-up", { params: { path: { id }, query: { units: store.units.value } } })));

export function useStart() {
  look();
  const start = computed(() => served.value && startWithWaiting(served.value, outbox.state.waiting.filter((w) => w.job_id === store.state.id)));
  return { start, failed };
}

/** The mark of the rail. */
export const progressOf = (start: StartUpDesign | null) => {
  if (!start?.manifolds.length) return undefined;
  const done = start.steps.filter((s) => s.done).length;
  return done === 0 ? "not_started" : done < start.steps.length ? "needs_attention" : "ok";
};
export const servedStart = served;
