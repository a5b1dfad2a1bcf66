/** Papers: what the crew and the customer get in hand. */
import { glyphs } from "../../kit/glyphs";
import { defineStation } from "../station";
import Papers from "./Papers.vue";

export const papers = defineStation({ id: "papers", name: "Papers", path: "papers", icon: glyphs.papers, views: { papers: { component: Papers, whole: true } }, first: "papers", alone: true });
