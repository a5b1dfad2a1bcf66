/** Floor: what lies over and under the tube, and what that does to the water. */
import { defineAsyncComponent, h } from "vue";
import { store } from "../../job/store";
import { glyphs } from "../../kit/glyphs";
import { show } from "../../units";
import { defineStation } from "../station";
import FloorLedger from "./FloorLedger.vue";
import SurfaceLegend from "./SurfaceLegend.vue";
import { useSurfaceShades } from "./shades";

// loaded when it is first shown
const OwnTable = defineAsyncComponent(() => import("../../products/OwnTable.vue"));
const FloorStation = defineAsyncComponent(() => import("./FloorStation.vue"));

export const floor = defineStation({
  id: "floor",
  name: "Floor",
  path: "floor",
  icon: glyphs.layers,
  views: { section: { component: FloorStation } },
  first: "section",
  sheet: {
    back: "the section",
    legend: SurfaceLegend,
    rooms: () => ({
      shades: useSurfaceShades().shades,
      lines: (room, d) => (d && room.floor ? [`surface ${show("temperature", d.surface_mean_c, store.units.value)}`, `needs ${show("temperature", d.supply_needed_c, store.units.value)} water`] : []),
    }),
  },
  ledgers: { Floors: FloorLedger, "Own tubes": () => h(OwnTable, { kind: "tubes" }), "Own coverings": () => h(OwnTable, { kind: "coverings" }) },
});
