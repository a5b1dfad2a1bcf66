/** What the customer's page and the fields that make it have in common. */
import { computed } from "vue";
import type { OptionDesign } from "../../api/client";
import { store } from "../../job/store";

/** An offer is open as long as something in it has no price. */
export const open = (o: OptionDesign) => o.missing.length > 0 || o.labour_missing;

const USUAL = ["Gas, electrical and flue work: by licensed trades.", "Screed, concrete and floor coverings.", "Permits and inspection fees."];

export function useOffer() {
  const quote = computed(() => store.job.value?.purchasing?.quote);
  return { quote, exclusions: computed(() => quote.value?.exclusions ?? USUAL) };
}
