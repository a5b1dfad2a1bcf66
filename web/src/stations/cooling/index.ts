/** Cooling: how cold the water may be, what the floors then take, what is left over. */
import { defineAsyncComponent } from "vue";
import { glyphs } from "../../kit/glyphs";
import { defineStation } from "../station";

// loaded when it is first shown
const CoolingView = defineAsyncComponent(() => import("./CoolingView.vue"));
const SummerLedger = defineAsyncComponent(() => import("./SummerLedger.vue"));

export const cooling = defineStation({
  id: "cooling",
  name: "Cooling",
  path: "cooling",
  only: "house",
  icon: glyphs.cooling,
  views: { cooling: { component: CoolingView } },
  first: "cooling",
  ledgers: { Rooms: SummerLedger },
});
