<script setup lang="ts">
/** The piping of the plant to print, with what has to be set: pumps, mixing, reset points, balancing, vessel. */
import { computed, ref } from "vue";
import { store } from "../../job/store";
import { show, type Quantity } from "../../units";
import { ARRANGEMENTS, CONTROLS, MIXINGS, SOURCES } from "../../words";
import PipingDiagram from "../plant/PipingDiagram.vue";
import { settingText } from "../water/valve";
import PaperFrame from "./PaperFrame.vue";

const { job, design, units } = store;
const PAGES = { a4: { name: "A4", width: 297, height: 210, css: "A4 landscape" }, letter: { name: "US letter", width: 279.4, height: 215.9, css: "letter landscape" } };
const paper = ref<"a4" | "letter">(units.value === "us" ? "letter" : "a4");
const today = new Date().toLocaleDateString(undefined, { dateStyle: "medium" });
const s = (q: Quantity, v: number | null | undefined) => show(q, v, units.value);
const of = computed(() => design.value?.plant);
const state = computed(() => of.value?.state);
const source = computed(() => job.value?.plant?.source);
const pair = (p: number[]) => `${s("temperature", p[1])} at ${s("temperature", p[0])}`;
const lineOf = (id: string) => of.value?.lines.find((l) => l.id === id);
const loopsOf = (id: string) => {
  const on = design.value?.circuits.find((c) => c.id === id)?.manifold_ids ?? [];
  return (design.value?.loops ?? []).filter((l) => on.includes(l.manifold_id));
};
const errors = computed(() => (design.value?.findings ?? []).filter((f) => f.severity === "error" && f.station === "plant"));
</script>

<template>
  <PaperFrame v-if="job && design" v-model:paper="paper" label="Papers" :pages="PAGES" :margin="10" print="Print the plant sheet">
    <template #bar><slot /></template>
    <header>
      <div><h1>{{ job.name }}</h1><p>{{ [job.customer, job.address || job.site.place, "plant sheet", today].filter(Boolean).join(" · ") }}</p></div>
    </header>
    <p v-if="!of" class="none">This job has no plant yet: begin one at Plant.</p>
    <p v-else-if="!state" class="stop"><b>The plant is not calculated:</b> {{ of.refused }}</p>
    <template v-else>
      <p v-if="errors.length" class="stop"><b>Do not pipe from this sheet:</b> {{ errors[0]!.message }}</p>
      <p class="what">{{ ARRANGEMENTS[state.arrangement] }}; {{ source!.name || SOURCES[source!.kind] }}, {{ s("heat", source!.most_w) }}; figures at {{ s("temperature", state.outdoor_c) }} outdoors.</p>
      <PipingDiagram class="drawing" :state="state" still />
      <section class="tables">
        <h2>Circuits</h2>
        <table class="grid-table">
          <thead><tr><th>Circuit</th><th class="num">Supply</th><th class="num">Return</th><th class="num">Flow</th><th class="num">Heat</th><th>Mixing</th><th>Pump</th><th>Run at</th><th class="num">Head</th><th class="num">Mains, bore</th></tr></thead>
          <tbody>
            <tr v-for="c in state.circuits" :key="c.id">
              <td><b>{{ c.name }}</b></td><td class="num">{{ s("temperature", c.on ? c.supply_c : c.needs_c) }}</td><td class="num">{{ s("temperature", c.return_c) }}</td><td class="num">{{ s("flow", c.on ? c.flow_l_min : c.design_flow_l_min) }}</td><td class="num">{{ s("heat", c.on ? c.heat_w : c.wants_w) }}</td>
              <td>{{ MIXINGS[c.mixing] }}</td><td>{{ c.pump.name }}</td><td>{{ CONTROLS[c.pump.control] }}</td><td class="num">{{ s("head", c.pump.design_head_pa) }}</td><td class="num">{{ s("size", c.mains_bore_m) }}</td>
            </tr>
          </tbody>
        </table>
        <h2>Set at the controller</h2>
        <ul>
          <li v-for="c in state.circuits.filter((x) => lineOf(x.id))" :key="c.id"><b>{{ c.name }}</b>: {{ lineOf(c.id)!.two.map(pair).join(", ") }}; with a middle point {{ lineOf(c.id)!.three.map(pair).join(", ") }}</li>
          <li>Rooms off from {{ s("temperature", job.plant!.warm_weather_c) }} outdoors.</li>
          <li v-for="f in of.fixed" :key="f.id"><b>{{ f.name }}</b>: {{ s("temperature", f.wants_c) }} whenever it calls.</li>
        </ul>
        <h2>Set at the manifolds</h2>
        <table v-for="c in state.circuits.filter((x) => loopsOf(x.id).length)" :key="c.id" class="grid-table">
          <thead><tr><th>{{ c.name }}</th><th v-for="l in loopsOf(c.id)" :key="l.id" class="num">{{ l.tag }}</th></tr></thead>
          <tbody>
            <tr><td>Flow meter</td><td v-for="l in loopsOf(c.id)" :key="l.id" class="num">{{ s("flow", l.flow_l_min) }}</td></tr>
            <tr><td>Valve closes</td><td v-for="l in loopsOf(c.id)" :key="l.id" class="num">{{ l.valve ? s("head", l.balancing_pa) : "open" }}</td></tr>
            <tr><td>Valve set at</td><td v-for="l in loopsOf(c.id)" :key="l.id" class="num">{{ settingText(l.valve, units) }}</td></tr>
          </tbody>
        </table>
        <h2>Filling</h2>
        <p>Content {{ s("content", of.vessel.content_l) }}; vessel {{ of.vessel.chosen_l ? s("content", of.vessel.chosen_l) : "none fits" }}, its gas side and the plant cold at {{ s("pressure", of.vessel.fill_pa) }}; relief valve {{ s("pressure", job.plant!.relief_pa) }}. Purge points on every return of a circuit, isolating valves on both sides of each pump, an air separator where the water is hottest.</p>
        <h2>Cautions</h2>
        <p>Figures are design aids; local code and the manufacturer’s instructions come first. Fuel, flue, refrigerant and electrical work belong to licensed trades. Every source has its own relief valve with an open drain, and limits against scalding. Drinking water stays behind a heat exchanger.</p>
      </section>
    </template>
  </PaperFrame>
</template>

<style scoped>
header { border-bottom: 1px solid var(--ink); margin-bottom: 2mm; }
h1 { font-size: 14pt; }
h2 { font-size: 11pt; margin: 4mm 0 1.5mm; }
header p, .what { margin: 0; color: var(--soft); }
.drawing { height: 150mm; width: 100%; print-color-adjust: exact; }
.tables { break-before: page; }
.grid-table { font-size: 9pt; margin-bottom: 2mm; }
.grid-table td { height: auto; padding: 0.7mm 2mm; }
.grid-table th { position: static; background: none; }
ul { margin: 0; padding-left: 5mm; }
.stop { border: 2px solid var(--ember); padding: 1.5mm 3mm; color: var(--ember); }
.none { color: var(--soft); }
</style>
