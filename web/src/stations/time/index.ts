/** Time: how long it takes, what a set-back saves, how thermostat and reset differ, a year. */
import { defineAsyncComponent } from "vue";
import { glyphs } from "../../kit/glyphs";
import { defineStation } from "../station";

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
});
