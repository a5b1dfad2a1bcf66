<script setup lang="ts">
/** How much heat at which outdoor temperature? A straight line from the design day to where no heat is needed. */
import { computed } from "vue";
import type { Design } from "../../api/client";
import { store } from "../../job/store";
import ChartFrame from "../../kit/ChartFrame.vue";
import { ticks } from "../../kit/charts";
import type { Column } from "../../kit/table";
import { show } from "../../units";

const props = defineProps<{ building: Design["building"]; outdoor: number }>();
const units = store.units;
const warm = computed(() => Math.max(props.building.zero_load_c ?? 20, props.outdoor + 5));
const low = computed(() => props.outdoor - 4);
const top = computed(() => Math.max(1, props.building.heat_w * 1.15));
const heatAt = (outdoor: number) => Math.max(0, props.building.heat_w + props.building.w_per_k * (props.outdoor - outdoor));
type Row = { outdoor: number };
const columns: Column<Row>[] = [
  { key: "outdoor", head: "Outdoors", value: (r) => r.outdoor, quantity: "temperature" },
  { key: "heat", head: "Heat", value: (r) => heatAt(r.outdoor), quantity: "heat" },
];
const rows = computed(() => [props.outdoor, ...ticks("temperature", props.outdoor, warm.value, units.value, 8).map((t) => t.value).filter((v) => v > props.outdoor)].map((outdoor) => ({ outdoor })));
</script>

<template>
  <ChartFrame
    question="How much heat at which outdoor temperature?" :width="330" :height="176" :columns="columns" :rows="rows"
    :label="`Load line: ${show('heat', building.heat_w, units)} at ${show('temperature', outdoor, units)}, nothing from ${show('temperature', building.zero_load_c, units)} on`"
    :x="{ quantity: 'temperature', from: low, to: warm + 2, name: 'outdoors' }" :y="{ quantity: 'heat', from: 0, to: top, name: 'heat' }"
    :read="(t) => `${show('temperature', t, units)}: ${show('heat', heatAt(t), units)}`">
    <template #default="{ x, y }">
      <line class="load" :x1="x(low)" :y1="y(Math.min(top, heatAt(low)))" :x2="x(building.zero_load_c ?? warm)" :y2="y(0)" />
      <line class="design" :x1="x(outdoor)" :x2="x(outdoor)" :y1="y(0)" :y2="y(building.heat_w)" />
      <circle class="point" :cx="x(outdoor)" :cy="y(building.heat_w)" r="4" />
    </template>
    <template #key>{{ show("slope", building.w_per_k, units) }} less for each degree; none from {{ show("temperature", building.zero_load_c, units) }} on, sun and people left out.</template>
  </ChartFrame>
</template>

<style scoped>
.load { stroke: var(--ember); stroke-width: 2; }
.design { stroke: var(--ink); stroke-dasharray: 3 3; }
.point { fill: var(--ember); }
</style>
