/** Plant: heat source, piping, users, control over the year. */
import { defineAsyncComponent, h } from "vue";
import { glyphs } from "../../kit/glyphs";
import { defineStation } from "../station";

// loaded when it is first shown
const OwnTable = defineAsyncComponent(() => import("../../products/OwnTable.vue"));
const PlantView = defineAsyncComponent(() => import("./PlantView.vue"));
const PlantLedger = defineAsyncComponent(() => import("./PlantLedger.vue"));
const FeedLedger = defineAsyncComponent(() => import("./FeedLedger.vue"));

export const plant = defineStation({
  id: "plant",
  name: "Plant",
  path: "plant",
  icon: glyphs.plant,
  views: { plant: { component: PlantView } },
  first: "plant",
  ledgers: { Circuits: PlantLedger, "Pumps and mixing": FeedLedger, "Own pumps": () => h(OwnTable, { kind: "pumps" }), "Own sources": () => h(OwnTable, { kind: "sources" }) },
});
