<script setup lang="ts">
/** How cold does it get? The days of the weather file with the design line. */
import { computed } from "vue";
import { scaleLinear } from "d3-scale";
import { area, line } from "d3-shape";
import type { Weather } from "../../api/client";
import { ticks } from "../../kit/charts";
import { store } from "../../job/store";
import { show } from "../../units";

const props = defineProps<{ weather: Weather; design: number; colder?: number }>();
const W = 460;
const H = 190;
const PAD = { left: 44, right: 8, top: 10, bottom: 22 };
const units = store.units;
const days = computed(() => props.weather.days as [number, number, number][]);
const low = computed(() => Math.min(props.design, ...days.value.map((d) => d[0])) - 2);
const high = computed(() => Math.max(...days.value.map((d) => d[2])) + 2);
const x = computed(() => scaleLinear().domain([0, days.value.length - 1]).range([PAD.left, W - PAD.right]));
const y = computed(() => scaleLinear().domain([low.value, high.value]).range([H - PAD.bottom, PAD.top]));
const band = computed(() => area<[number, number, number]>().x((_, i) => x.value(i)).y0((d) => y.value(d[0])).y1((d) => y.value(d[2]))(days.value) ?? "");
const mean = computed(() => line<[number, number, number]>().x((_, i) => x.value(i)).y((d) => y.value(d[1]))(days.value) ?? "");
const months = "JFMAMJJASOND".split("").map((name, i) => ({ name, at: (i + 0.5) * 30.42 }));
</script>

<template>
  <figure class="year">
    <figcaption>How cold does it get? {{ colder === undefined ? "" : colder === 0 ? "No day falls" : colder === 1 ? "One day falls" : `${colder} days fall` }} below the design line.</figcaption>
    <svg :viewBox="`0 0 ${W} ${H}`" role="img" :aria-label="`Daily temperatures of ${weather.name}, from ${show('temperature', low + 2, units)} to ${show('temperature', high - 2, units)}, design line at ${show('temperature', design, units)}`">
      <g v-for="t in ticks('temperature', low, high, units)" :key="t.value" class="grid">
        <line :x1="PAD.left" :x2="W - PAD.right" :y1="y(t.value)" :y2="y(t.value)" />
        <text :x="PAD.left - 5" :y="y(t.value) + 4">{{ t.text }}</text>
      </g>
      <text v-for="(m, i) in months" :key="i" class="month" :x="x(m.at)" :y="H - 7">{{ m.name }}</text>
      <path class="band" :d="band" />
      <path class="mean" :d="mean" />
      <line class="design" :x1="PAD.left" :x2="W - PAD.right" :y1="y(design)" :y2="y(design)" />
      <text class="label" :x="W - PAD.right" :y="y(design) - 4">design {{ show("temperature", design, units) }}</text>
    </svg>
    <p class="key"><i class="b"></i> lowest to highest of the day <i class="m"></i> its mean <i class="d"></i> design day</p>
  </figure>
</template>

<style scoped>
.year { margin: 0 0 12px; max-width: 520px; }
figcaption { font-weight: 600; margin-bottom: 2px; }
svg { width: 100%; height: auto; display: block; }
.grid line { stroke: var(--faint); }
text { font-size: 11px; fill: var(--soft); }
.grid text { text-anchor: end; }
.month { text-anchor: middle; }
.band { fill: #c9d6da; }
.mean { fill: none; stroke: var(--ink); stroke-width: 1; }
.design { stroke: var(--ember); stroke-width: 1.6; stroke-dasharray: 6 3; }
.label { text-anchor: end; fill: var(--ember); font-weight: 600; paint-order: stroke; stroke: var(--paper); stroke-width: 3px; }
.key { font-size: 12px; color: var(--soft); margin: 0; }
.key i { display: inline-block; width: 16px; height: 8px; margin: 0 3px 0 10px; vertical-align: middle; }
.key i.b { background: #c9d6da; }
.key i.m { height: 0; border-top: 1.5px solid var(--ink); }
.key i.d { height: 0; border-top: 2px dashed var(--ember); }
</style>
