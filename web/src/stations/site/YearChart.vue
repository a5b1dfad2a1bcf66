<script setup lang="ts">
/** How cold does it get? The days of the weather file with the design line. */
import { area, line } from "d3-shape";
import type { ScaleLinear } from "d3-scale";
import { computed } from "vue";
import type { Weather } from "../../api/client";
import { store } from "../../job/store";
import ChartFrame from "../../kit/ChartFrame.vue";
import type { Column } from "../../kit/table";
import { show } from "../../units";

const props = defineProps<{ weather: Weather; design: number; colder?: number }>();
const units = store.units;
type Day = [low: number, mean: number, high: number];
const days = computed(() => props.weather.days as Day[]);
const low = computed(() => Math.min(props.design, ...days.value.map((d) => d[0])) - 2);
const high = computed(() => Math.max(...days.value.map((d) => d[2])) + 2);
type Scale = ScaleLinear<number, number>;
const band = (x: Scale, y: Scale) => area<Day>().x((_, i) => x(i)).y0((d) => y(d[0])).y1((d) => y(d[2]))(days.value) ?? "";
const mean = (x: Scale, y: Scale) => line<Day>().x((_, i) => x(i)).y((d) => y(d[1]))(days.value) ?? "";

const MONTHS = ["January", "February", "March", "April", "May", "June", "July", "August", "September", "October", "November", "December"];
const DAYS_OF_MONTH = 365 / 12;
const ticks = MONTHS.map((name, i) => ({ value: (i + 0.5) * DAYS_OF_MONTH, text: name[0]! }));
const monthOf = (day: number) => Math.min(11, Math.floor(day / DAYS_OF_MONTH));
const rows = computed(() =>
  MONTHS.map((month, m) => {
    const of = days.value.filter((_, day) => monthOf(day) === m);
    return { month, low: Math.min(...of.map((d) => d[0])), mean: of.reduce((sum, d) => sum + d[1], 0) / of.length, high: Math.max(...of.map((d) => d[2])) };
  }),
);
const columns: Column<(typeof rows.value)[number]>[] = [
  { key: "month", head: "Month", value: (r) => r.month },
  { key: "low", head: "Coldest", value: (r) => r.low, quantity: "temperature" },
  { key: "mean", head: "Mean", value: (r) => r.mean, quantity: "temperature" },
  { key: "high", head: "Warmest", value: (r) => r.high, quantity: "temperature" },
];
function read(at: number) {
  const day = days.value[Math.round(at)];
  return day ? `${MONTHS[monthOf(Math.round(at))]}: ${show("temperature", day[0], units.value)} to ${show("temperature", day[2], units.value)}` : "";
}
const below = computed(() => (props.colder === undefined ? "" : props.colder === 0 ? "No day falls below the design line." : props.colder === 1 ? "One day falls below the design line." : `${props.colder} days fall below the design line.`));
</script>

<template>
  <ChartFrame
    class="year" :question="`How cold does it get? ${below}`" :width="460" :columns="columns" :rows="rows" :read="read"
    :label="`Daily temperatures of ${weather.name}, from ${show('temperature', low + 2, units)} to ${show('temperature', high - 2, units)}, design line at ${show('temperature', design, units)}`"
    :x="{ quantity: 'count', from: 0, to: days.length - 1, ticks }" :y="{ quantity: 'temperature', from: low, to: high }">
    <template #default="{ x, y, plot }">
      <path class="band" :d="band(x, y)" />
      <path class="mean" :d="mean(x, y)" />
      <line class="design" :x1="plot.left" :x2="plot.right" :y1="y(design)" :y2="y(design)" />
      <text class="label" :x="plot.right" :y="y(design) - 4">design {{ show("temperature", design, units) }}</text>
    </template>
    <template #key><i class="b"></i> lowest to highest of the day <i class="m"></i> its mean <i class="d"></i> design day</template>
  </ChartFrame>
</template>

<style scoped>
.year { margin-bottom: 12px; max-width: 520px; }
.band { fill: var(--air-band); }
.mean { fill: none; stroke: var(--ink); stroke-width: 1; }
.design { stroke: var(--ember); stroke-width: 1.6; stroke-dasharray: 6 3; }
.label { text-anchor: end; fill: var(--ember); font-weight: 600; paint-order: stroke; stroke: var(--paper); stroke-width: 3px; }
i { display: inline-block; width: 16px; height: 8px; margin: 0 3px 0 10px; vertical-align: middle; }
i.b { background: var(--air-band); }
i.m { height: 0; border-top: 1.5px solid var(--ink); }
i.d { height: 0; border-top: 2px dashed var(--ember); }
</style>
