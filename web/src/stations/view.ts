/** Which view of a station is shown stands in the address, so that it can be linked to and come back to. */
import { computed } from "vue";
import { useRoute, useRouter } from "vue-router";

export const PLAN = "plan";

export function useStationView() {
  const route = useRoute();
  const router = useRouter();
  return {
    wanted: computed(() => (typeof route.query.view === "string" ? route.query.view : "")),
    /** Without a name: the station's first view. */
    show: (view?: string) => void router.replace({ query: view ? { view } : {} }),
  };
}
