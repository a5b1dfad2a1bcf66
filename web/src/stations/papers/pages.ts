/** Upright pages, and the one with which the viewer begins. */
import { ref } from "vue";
import { store } from "../../job/store";

export const UPRIGHT = { a4: { name: "A4", width: 210, height: 297, css: "A4 portrait" }, letter: { name: "US letter", width: 215.9, height: 279.4, css: "letter portrait" } };
export const UPRIGHT_MARGIN = 14;
export const usualPaper = () => ref(store.units.value === "us" ? "letter" : "a4");
