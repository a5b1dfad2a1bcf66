/** What the design takes, counted by the server; asked for once for all that show it. */
import { createSharedComposable } from "@vueuse/core";
import { computed } from "vue";
import { answer, api, type MaterialsDesign } from "../../api/client";
import { store } from "../../job/store";
import { useTrial } from "../../job/trials";
import { moneyIn } from "../../kit/money";
import { convert, type Quantity } from "../../units";

export const useMaterials = createSharedComposable(() => {
  const trial = useTrial<MaterialsDesign>([() => store.design.value], async () => (store.job.value && store.design.value ? answer(api.POST("/api/materials", { body: store.seen(store.job.value) })) : null));
  /** What is shown is counted from an older state of the job: nothing is moved or printed by it. */
  const old = computed(() => trial.old.value || !store.designs.current.value);
  const currency = computed(() => trial.answer.value?.currency ?? "");
  const money = (v: number | null | undefined) => (v === null || v === undefined ? "" : moneyIn(currency.value, v));
  return { ...trial, old, currency, money };
});

/** What an article is counted in, as a quantity. */
export const UNIT_QUANTITY = { piece: "count", metre: "tube", square_metre: "area", litre: "content" } as const satisfies Record<string, Quantity>;
export type CountUnit = keyof typeof UNIT_QUANTITY;

/** How many of the viewer's units one of the unit is: a price of a metre is so many times that of a foot. */
export const perUnit = (unit: CountUnit) => convert(UNIT_QUANTITY[unit], 1, store.units.value);
