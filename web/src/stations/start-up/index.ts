/** Start-up: filled, purged, flows set, heated up, each step written down where it is done. */
import { defineAsyncComponent } from "vue";
import { glyphs } from "../../kit/glyphs";
import { defineStation } from "../station";
import { progressOf, servedStart } from "./start";

const StartUpView = defineAsyncComponent(() => import("./StartUpView.vue"));

export const startUp = defineStation({
  id: "start_up",
  name: "Start-up",
  path: "start-up",
  icon: glyphs.startUp,
  views: { steps: { component: StartUpView, whole: true } },
  first: "steps",
  progress: () => progressOf(servedStart.value),
});
