/** Water: flow, temperatures and balance at the manifolds. */
import { glyphs } from "../../kit/glyphs";
import WaterLegend from "../../sheet/WaterLegend.vue";
import { defineStation } from "../station";
import ManifoldView from "./ManifoldView.vue";
import WaterLedger from "./WaterLedger.vue";
import WaterOver from "./WaterOver.vue";
import WaterTags from "./WaterTags.vue";

export const water = defineStation({
  id: "water",
  name: "Water",
  path: "water",
  icon: glyphs.drop,
  views: { manifolds: { component: ManifoldView } },
  first: "manifolds",
  sheet: { back: "the manifolds", over: WaterOver, labels: WaterTags, legend: WaterLegend, rooms: () => ({ nameless: true }) },
  ledgers: { Water: WaterLedger },
});
