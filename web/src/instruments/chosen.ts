/** Which instrument this browser reads with, for all stations. */
import { useLocalStorage } from "@vueuse/core";
import { computed, ref } from "vue";
import { answer, api, type Instrument } from "../api/client";
import { store } from "../job/store";
import type { Choice } from "../kit/ChoiceField.vue";
import type { Ask } from "./read";

/** Typed, or of the job's own simulated instruments: at a sound house, or at one with a fault that is not told. */
const HAND = "hand";
const SOUND = "stand-in sound";
const FAULTY = "stand-in faulty";
const chosen = useLocalStorage("fuoco-instrument", HAND);
/** Which faulty house: the same one from station to station until it is chosen anew. */
const house = useLocalStorage("fuoco-instrument-house", 1);
const known = ref<Instrument[]>([]);
const MOST_HOUSES = 1_000_000_000;

let asked = false;
async function ask() {
  if (asked) return;
  asked = true;
  // no list, no more than what is typed: the field says so by itself
  known.value = await answer(api.GET("/api/instruments")).catch(() => ((asked = false), []));
}

export function useInstrument() {
  void ask();
  const options = computed<Choice<string>[]>(() => [
    { value: HAND, text: "read by hand" },
    ...known.value.map((i) => ({ value: i.url, text: i.name })),
    { value: SOUND, text: "simulated: all is well" },
    { value: FAULTY, text: "simulated: something is wrong" },
  ]);
  const choose = (value: string) => {
    if (value === FAULTY) house.value = 1 + Math.floor(Math.random() * MOST_HOUSES);
    chosen.value = value;
  };
  const is = computed(() => (options.value.some((o) => o.value === chosen.value) ? chosen.value : HAND));
  const byHand = computed(() => is.value === HAND);
  const simulated = computed(() => is.value === SOUND || is.value === FAULTY);
  const url = computed(() => (simulated.value ? `/api/jobs/${encodeURIComponent(store.state.id)}/stand-in` : is.value));
  const withHouse = (what: Ask): Ask => (simulated.value ? { ...what, house: is.value === SOUND ? 0 : house.value } : what);
  return { options, chosen: is, choose, byHand, simulated, url, withHouse };
}
