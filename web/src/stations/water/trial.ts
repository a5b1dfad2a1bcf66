/** A circuit as it is tried at this station: ports shut, valves away, a loop half blocked. Kept while the job is open. */
import { createSharedComposable } from "@vueuse/core";
import { computed, reactive, watch } from "vue";
import { answer, api, type PortState, type WaterTried } from "../../api/client";
import { store } from "../../job/store";
import { useTrial } from "../../job/trials";

export const tried = reactive({
  /** The job to which this belongs. */
  job: "",
  /** The circuit looked at; the first one where that is gone. */
  circuit: "",
  shut: [] as string[],
  withoutValves: false,
  /** A loop and the share of its bore that is open. */
  blocked: null as { loop: string; open: number } | null,
});

export const isTried = computed(() => tried.shut.length > 0 || tried.withoutValves || tried.blocked !== null);
export const asDesigned = () => Object.assign(tried, { shut: [], withoutValves: false, blocked: null });

export function shut(id: string, closed: boolean) {
  tried.shut = [...tried.shut.filter((x) => x !== id), ...(closed ? [id] : [])];
}

/** The circuits that carry water. */
export const circuits = computed(() => (store.design.value?.circuits ?? []).filter((c) => c.flow_l_min > 0));
export const circuit = computed(() => circuits.value.find((c) => c.id === tried.circuit) ?? circuits.value[0]);

export const useWaterTrial = createSharedComposable(() => {
  watch(
    () => store.state.id,
    (id) => {
      if (tried.job !== id) Object.assign(asDesigned(), { job: id, circuit: "" });
    },
    { immediate: true },
  );
  const trial = useTrial<WaterTried>([() => store.design.value, () => circuit.value?.id, () => ({ ...tried, shut: [...tried.shut] })], async () => {
    const of = circuit.value;
    if (!store.job.value || !of) return null;
    const blocked = tried.blocked && store.design.value?.loops.some((l) => l.id === tried.blocked!.loop) ? { loop_id: tried.blocked.loop, open_share: tried.blocked.open } : null;
    return answer(api.POST("/api/water/try", { body: { job: store.seen(store.job.value) as never, trial: { circuit_id: of.id, shut: tried.shut, without_valves: tried.withoutValves, blocked } } }));
  });
  return { state: trial.answer, trouble: trial.trouble, old: trial.old };
});

/** What a port takes of pressure, by what takes it. */
export const partsOf = (p: PortState) => [
  { key: "tube", name: "loop", pa: p.tube_pa },
  { key: "leaders", name: "leaders", pa: p.leaders_pa },
  { key: "port", name: "port and fittings", pa: p.port_pa },
  { key: "valve", name: "balancing valve", pa: p.valve_pa },
];
