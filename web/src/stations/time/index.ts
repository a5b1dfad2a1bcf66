/** Time: how long it takes, what a set-back saves, how thermostat and reset differ, a year. */
import { defineAsyncComponent } from "vue";
import { glyphs } from "../../kit/glyphs";
import { defineStation } from "../station";
import ThermalBar from "./ThermalBar.vue";
import ThermalLegend from "./ThermalLegend.vue";
import ThermalOverlay from "./ThermalOverlay.vue";
import ThermalTags from "./ThermalTags.vue";
import { thermalTools } from "./thermalTools";

// loaded when it is first shown
const TimeView = defineAsyncComponent(() => import("./TimeView.vue"));

export const time = defineStation({
  id: "time",
  name: "Time",
  path: "time",
  only: "house",
  icon: glyphs.time,
  views: { time: { component: TimeView, whole: true } },
  first: "time",
  sheet: { back: "the charts", bar: ThermalBar, tools: thermalTools, over: ThermalOverlay, labels: ThermalTags, legend: ThermalLegend, rooms: () => ({ nameless: true }) },
});
