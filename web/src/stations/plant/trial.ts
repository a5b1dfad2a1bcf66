/** The plant as it is tried at this station: the weather, what is switched off. Kept while the job is open. */
import { computed, reactive } from "vue";
import { answer, api } from "../../api/client";
import { store } from "../../job/store";
import { useTrial } from "../../job/trials";

export const tried = reactive({
  /** Outdoor temperature, °C; null: the design day's. */
  outdoor: null as number | null,
  off: [] as string[],
  charging: false,
});

export function turn(id: string, on: boolean) {
  tried.off = tried.off.filter((x) => x !== id);
  if (!on) tried.off.push(id);
}

/** Whether anything differs from the design day. */
export const isTried = computed(() => tried.outdoor !== null || tried.off.length > 0 || tried.charging);

/** The plant at work as tried; the design's own as long as nothing is. */
export function usePlantState() {
  const trial = useTrial([() => store.design.value, () => ({ ...tried, off: [...tried.off] })], async () => {
    if (!store.job.value?.plant || !isTried.value) return null;
    const { outdoor, off, charging } = tried;
    return answer(api.POST("/api/plant/try", { body: { job: store.seen(store.job.value) as never, trial: { outdoor_c: outdoor, off, charging } } }));
  });
  const state = computed(() => (isTried.value ? (trial.answer.value ?? store.design.value?.plant?.state ?? null) : (store.design.value?.plant?.state ?? null)));
  const trouble = computed(() => (isTried.value ? trial.trouble.value : (store.design.value?.plant?.refused ?? "")));
  return { state, trouble, busy: trial.busy };
}
