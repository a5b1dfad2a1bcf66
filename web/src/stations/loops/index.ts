/** Loops: how the tube is laid. */
import { defineAsyncComponent } from "vue";
import { glyphs } from "../../kit/glyphs";
import { defineStation } from "../station";
import LoopBar from "./LoopBar.vue";
import LoopLegend from "./LoopLegend.vue";
import LoopOverlay from "./LoopOverlay.vue";
import LoopsLedger from "./LoopsLedger.vue";
import LoopTags from "./LoopTags.vue";
import RoomLoops from "./RoomLoops.vue";
import ScoreCard from "./ScoreCard.vue";
import { loopTools } from "./tools";

// loaded when it is first shown
const CompareLayouts = defineAsyncComponent(() => import("./CompareLayouts.vue"));

export const loops = defineStation({
  id: "loops",
  name: "Loops",
  path: "loops",
  icon: glyphs.loop,
  sheet: { bar: LoopBar, tools: loopTools, over: LoopOverlay, labels: LoopTags, legend: LoopLegend, rooms: () => ({ nameless: true }) },
  views: { compare: { component: CompareLayouts, whole: true } },
  ledgers: { Loops: LoopsLedger, "Score card": ScoreCard },
  inspectors: { room: RoomLoops },
});
