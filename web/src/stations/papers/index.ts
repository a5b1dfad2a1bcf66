/** Papers: what the crew and the customer get in hand. */
import { defineAsyncComponent } from "vue";
import { glyphs } from "../../kit/glyphs";
import { defineStation } from "../station";

// loaded when it is first shown
const Papers = defineAsyncComponent(() => import("./Papers.vue"));

export const papers = defineStation({ id: "papers", name: "Papers", path: "papers", icon: glyphs.papers, views: { papers: { component: Papers, whole: true } }, first: "papers", alone: true });
