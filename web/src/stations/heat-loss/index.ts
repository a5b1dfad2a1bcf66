/** Heat loss: watts of every room by cause. */
import { computed } from "vue";
import { account } from "../../job/loss";
import { store } from "../../job/store";
import { glyphs } from "../../kit/glyphs";
import { show } from "../../units";
import { defineStation } from "../station";
import BuildingHeat from "./BuildingHeat.vue";
import CauseBars from "./CauseBars.vue";
import FluxLegend from "./FluxLegend.vue";
import HeatLedger from "./HeatLedger.vue";
import { useFluxShades } from "./shades";

export const heatLoss = defineStation({
  id: "heat_loss",
  name: "Heat loss",
  path: "heat-loss",
  only: "house",
  icon: glyphs.heatLoss,
  sheet: {
    labels: CauseBars,
    legend: FluxLegend,
    rooms: () => ({
      shades: useFluxShades().shades,
      titles: computed(() => Object.fromEntries((store.design.value?.rooms ?? []).map((r) => [r.id, account(r, store.units.value)]))),
      lines(_, d) {
        if (!d) return [];
        const { value: units } = store.units;
        return d.heated ? [show("heat", d.heat_loss_w, units), `${show("flux", d.flux_needed_w_m2, units)} of heatable floor`] : [`unheated, settles at ${show("temperature", d.temperature_c, units)}`];
      },
    }),
  },
  ledgers: { Rooms: HeatLedger, Building: BuildingHeat },
});
