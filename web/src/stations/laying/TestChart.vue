<script setup lang="ts">
/** Readings of a test over time, as read and corrected. */
import { line } from "d3-shape";
import { computed } from "vue";
import ChartFrame from "../../kit/ChartFrame.vue";
import type { Axis } from "../../kit/charts";
import type { Column } from "../../kit/table";
import type { TestRow } from "./tests";
import { when } from "./words";

const props = defineProps<{ test: TestRow }>();
interface Row {
  at: string;
  /** s since the first reading. */
  after: number;
  read: number;
  corrected: number | null;
}
const rows = computed<Row[]>(() => {
  const first = Date.parse(props.test.readings[0]!.at);
  return props.test.readings.map((r, i) => {
    const corrected = props.test.result?.corrected[i];
    return { at: r.at, after: (Date.parse(r.at) - first) / 1000, read: r.read.gauge_kpa * 1000, corrected: corrected == null ? null : corrected * 1000 };
  });
});
const required = computed(() => props.test.begun.test.required.pressure_kpa * 1000);
const x = computed<Axis>(() => ({ quantity: "time", from: 0, to: Math.max(...rows.value.map((r) => r.after), 60), name: "since the first reading" }));
const y = computed<Axis>(() => {
  const all = rows.value.flatMap((r) => [r.read, r.corrected ?? r.read]).concat(required.value);
  const [low, high] = [Math.min(...all), Math.max(...all)];
  const room = Math.max(0.15 * (high - low), 4000);
  return { quantity: "gauge", from: Math.max(0, low - room), to: high + room, name: "on the gauge" };
});
const columns: Column<Row>[] = [
  { key: "at", head: "When", value: (r) => when(r.at) },
  { key: "read", head: "As read", value: (r) => r.read, quantity: "gauge" },
  { key: "corrected", head: "Corrected", value: (r) => r.corrected, quantity: "gauge" },
];
const label = computed(() => `${rows.value.length} readings, as read and corrected for temperature and weather; required pressure as a broken line`);
</script>

<template>
  <ChartFrame question="Does the pressure stand?" :label="label" :x="x" :y="y" :width="620" :height="220" :columns="columns" :rows="rows">
    <template #default="{ x: px, y: py, plot }">
      <line class="required" :x1="plot.left" :x2="plot.right" :y1="py(required)" :y2="py(required)" />
      <path class="read" :d="line<Row>((r) => px(r.after), (r) => py(r.read))(rows) ?? ''" />
      <path class="corrected" :d="line<Row>((r) => px(r.after), (r) => py(r.corrected!)).defined((r) => r.corrected !== null)(rows) ?? ''" />
      <circle v-for="(r, i) in rows" :key="i" :cx="px(r.after)" :cy="py(r.read)" r="3" />
    </template>
    <template #key><span class="k read">as read</span> <span class="k corrected">corrected</span> <span class="k required">required</span></template>
  </ChartFrame>
</template>

<style scoped>
path { fill: none; stroke-width: 2; }
.read { stroke: var(--off); stroke-dasharray: 2 3; }
.corrected { stroke: var(--ember); }
.required { stroke: var(--ink); stroke-dasharray: 8 5; stroke-width: 1; }
circle { fill: var(--sheet); stroke: var(--ink); }
.k { margin-right: 14px; }
.k::before { content: ""; display: inline-block; width: 22px; margin-right: 4px; vertical-align: middle; border-top: 2px solid var(--ember); }
.k.read::before { border-top: 2px dotted var(--off); }
.k.required::before { border-top: 1px dashed var(--ink); }
</style>
