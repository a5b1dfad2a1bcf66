/** Snow: what the storm takes from areas outdoors, how the slab answers, what a year of it costs. */
import { defineAsyncComponent } from "vue";
import { glyphs } from "../../kit/glyphs";
import { defineStation } from "../station";

// loaded when it is first shown
const SnowView = defineAsyncComponent(() => import("./SnowView.vue"));
const AreaLedger = defineAsyncComponent(() => import("./AreaLedger.vue"));

export const snow = defineStation({
  id: "snow",
  name: "Snow",
  path: "snow",
  only: "outdoors",
  icon: glyphs.snow,
  views: { snow: { component: SnowView } },
  first: "snow",
  ledgers: { Areas: AreaLedger },
});
