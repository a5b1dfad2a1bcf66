/** The plant as it is tried at this station: the weather, what is switched off. Kept while the job is open. */
import { createSharedComposable } from "@vueuse/core";
import { computed, reactive, watch } from "vue";
import { answer, api } from "../../api/client";
import { store } from "../../job/store";
import { useTrial } from "../../job/trials";

export const tried = reactive({
  /** The job to which this belongs. */
  job: "",
  /** Outdoor temperature, °C; null: the design day's. */
  outdoor: null as number | null,
  off: [] as string[],
  charging: false,
});
export const asDesigned = () => Object.assign(tried, { outdoor: null, off: [], charging: false });

export function turn(id: string, on: boolean) {
  // a tank is heated by priority, everything else waits
  if (isTank(id)) tried.charging = on;
  else tried.off = [...tried.off.filter((x) => x !== id), ...(on ? [] : [id])];
}
export const isTank = (id: string) => store.job.value?.plant?.users?.some((u) => u.id === id && u.takes.kind === "tank") ?? false;
export const isOn = (id: string) => (isTank(id) ? tried.charging : !tried.off.includes(id));

/** Whether anything differs from the design day. */
export const isTried = computed(() => tried.outdoor !== null || tried.off.length > 0 || tried.charging);

/** The plant at work as tried; the design's own as long as nothing is. Asked for once for all that show it. */
export const usePlantState = createSharedComposable(() => {
  watch(
    () => store.state.id,
    (id) => {
      if (tried.job !== id) Object.assign(asDesigned(), { job: id });
    },
    { immediate: true },
  );
  const trial = useTrial([() => store.design.value, () => ({ ...tried, off: [...tried.off] })], async () => {
    if (!store.job.value?.plant || !isTried.value) return null;
    const { outdoor, off, charging } = tried;
    return answer(api.POST("/api/plant/try", { body: { job: store.seen(store.job.value) as never, trial: { outdoor_c: outdoor, off, charging } } }));
  });
  const designed = computed(() => store.design.value?.plant);
  const state = computed(() => (isTried.value ? trial.answer.value : null) ?? designed.value?.state ?? null);
  const trouble = computed(() => (isTried.value ? trial.trouble.value : (designed.value?.refused ?? "")));
  const old = computed(() => (isTried.value ? trial.old.value : trouble.value !== ""));
  return { state, trouble, old };
});
