/** Laying: how far every loop is, what happened to it, and what is to be done before the pour. */
import { defineAsyncComponent } from "vue";
import { glyphs } from "../../kit/glyphs";
import { defineStation } from "../station";
import LayingKey from "./LayingKey.vue";
import LayingOverlay from "./LayingOverlay.vue";
import { progressOf, servedLog } from "./log";

const LayingView = defineAsyncComponent(() => import("./LayingView.vue"));

export const laying = defineStation({
  id: "laying",
  name: "Laying",
  path: "laying",
  icon: glyphs.laying,
  views: { log: { component: LayingView, whole: true } },
  first: "log",
  sheet: { back: "the log", over: LayingOverlay, legend: LayingKey },
  progress: () => progressOf(servedLog.value),
});
