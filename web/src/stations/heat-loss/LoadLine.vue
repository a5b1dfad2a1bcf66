<script setup lang="ts">
/** How much heat at which outdoor temperature? A straight line from the design day to where no heat is needed. */
import { computed } from "vue";
import { scaleLinear } from "d3-scale";
import type { Design } from "../../api/client";
import { ticks } from "../../kit/charts";
import { store } from "../../job/store";
import { show } from "../../units";

const props = defineProps<{ building: Design["building"]; outdoor: number }>();
const units = store.units;
const W = 330;
const H = 172;
const PAD = { left: 52, right: 12, top: 8, bottom: 30 };
const warm = computed(() => Math.max(props.building.zero_load_c ?? 20, props.outdoor + 5));
const low = computed(() => props.outdoor - 4);
const x = computed(() => scaleLinear().domain([low.value, warm.value + 2]).range([PAD.left, W - PAD.right]));
const y = computed(() => scaleLinear().domain([0, Math.max(1, props.building.heat_w * 1.15)]).range([H - PAD.bottom, PAD.top]));
</script>

<template>
  <figure>
    <figcaption>How much heat at which outdoor temperature?</figcaption>
    <svg :viewBox="`0 0 ${W} ${H}`" role="img" :aria-label="`Load line: ${show('heat', building.heat_w, units)} at ${show('temperature', outdoor, units)}, nothing from ${show('temperature', building.zero_load_c, units)} on`">
      <g v-for="t in ticks('heat', 0, building.heat_w * 1.15, units, 4)" :key="`y${t.value}`">
        <line class="grid" :x1="PAD.left" :x2="W - PAD.right" :y1="y(t.value)" :y2="y(t.value)" /><text class="y" :x="PAD.left - 5" :y="y(t.value) + 4">{{ t.text }}</text>
      </g>
      <g v-for="t in ticks('temperature', low, warm + 2, units, 5)" :key="`x${t.value}`">
        <text class="x" :x="x(t.value)" :y="H - 16">{{ t.text }}</text>
      </g>
      <text class="x" :x="(W + PAD.left) / 2" :y="H - 3">outdoors, {{ units === "us" ? "°F" : "°C" }}; heat in {{ units === "us" ? "BTU/h" : "W" }}</text>
      <line class="load" :x1="x(low)" :y1="y(Math.min(building.heat_w * 1.15, building.heat_w + building.w_per_k * (outdoor - low)))" :x2="x(building.zero_load_c ?? warm)" :y2="y(0)" />
      <line class="design" :x1="x(outdoor)" :x2="x(outdoor)" :y1="y(0)" :y2="y(building.heat_w)" />
      <circle class="point" :cx="x(outdoor)" :cy="y(building.heat_w)" r="4" />
    </svg>
    <p>{{ show("slope", building.w_per_k, units) }} less for each degree; none from {{ show("temperature", building.zero_load_c, units) }} on, sun and people left out.</p>
  </figure>
</template>

<style scoped>
figure { margin: 0; }
figcaption { font-weight: 650; }
svg { width: 100%; height: auto; display: block; }
text { font-size: 10.5px; fill: var(--soft); }
.y { text-anchor: end; }
.x { text-anchor: middle; }
.grid { stroke: var(--faint); }
.load { stroke: var(--ember); stroke-width: 2; }
.design { stroke: var(--ink); stroke-dasharray: 3 3; }
.point { fill: var(--ember); }
p { margin: 0; font-size: 12px; color: var(--soft); }
</style>
