<script setup lang="ts">
/** The heat-up of one build-up: its programme as a line, what was read on it, and a reading to be written down. */
import { curveStepAfter, line } from "d3-shape";
import { computed, ref } from "vue";
import type { HeatUpDesign, HeatUpDay } from "../../api/client";
import { store } from "../../job/store";
import ChartFrame from "../../kit/ChartFrame.vue";
import type { Axis } from "../../kit/charts";
import QuantityField from "../../kit/QuantityField.vue";
import type { Column } from "../../kit/table";
import { show } from "../../units";
import SiteForm from "../laying/SiteForm.vue";
import { when } from "../laying/words";

const props = defineProps<{ heatUp: HeatUpDesign }>();
const { units } = store;
const c = (v: number | null | undefined) => (v == null ? "" : show("temperature", v, units.value));
const reading = ref(false);
const supply = ref<number>();
const moisture = ref<number>();
function record() {
  if (supply.value === undefined) return "Read the supply first.";
  return { fact: { kind: "heat_up_read" as const, build_up_id: props.heatUp.build_up_id, supply_c: supply.value, moisture_percent: moisture.value === undefined ? null : moisture.value * 100 } };
}
function begin() {
  supply.value = undefined;
  moisture.value = undefined;
  reading.value = true;
}
const last = computed(() => props.heatUp.days.length);
const today = computed(() => props.heatUp.days[(props.heatUp.day ?? 0) - 1]);
const most = computed(() => Math.max(...props.heatUp.days.map((d) => d.supply_c)));
const onChart = computed(() => props.heatUp.readings.filter((r) => r.day >= 1 && r.day <= last.value));
const xAxis = computed<Axis>(() => ({
  quantity: "count",
  from: 1,
  to: last.value + 1,
  name: "day",
  ticks: props.heatUp.days.filter((d) => last.value < 12 || d.day % 2 === 1).map((d) => ({ value: d.day + 0.5, text: String(d.day) })),
}));
const yAxis = computed<Axis>(() => ({ quantity: "temperature", from: 15, to: Math.max(most.value, ...props.heatUp.readings.map((r) => r.supply_c)) + 4, name: "supply" }));
/** To the end of the last day. */
const steps = computed(() => [...props.heatUp.days, { day: last.value + 1, supply_c: props.heatUp.days.at(-1)!.supply_c }]);
const columns: Column<HeatUpDay>[] = [
  { key: "day", head: "Day", value: (d) => d.day, quantity: "count" },
  { key: "supply", head: "Supply", value: (d) => d.supply_c, quantity: "temperature" },
];
</script>

<template>
  <article :aria-label="heatUp.name">
    <h2>{{ heatUp.name }}</h2>
    <p class="note">{{ heatUp.rooms.join(", ") }}. <template v-if="heatUp.wait_days">Not before {{ heatUp.wait_days }} days after the pour, unless its maker says otherwise.</template><template v-else>Nothing has to dry: it is led up slowly, so that timber keeps pace.</template></p>
    <p v-if="heatUp.done" class="done">The programme is through. Hand the record to the flooring trade, who measures the moisture before anything is laid.</p>
    <p v-else-if="today">Day {{ heatUp.day }} of {{ last }}: {{ c(today.supply_c) }}.</p>
    <p v-else>It begins with the first reading, at {{ c(heatUp.days[0]!.supply_c) }}.</p>
    <ChartFrame question="How warm shall the water be?" :label="`Programme of ${last} days up to ${c(most)}, and what was read`" :x="xAxis" :y="yAxis" :width="620" :height="200" :columns="columns" :rows="heatUp.days">
      <template #default="{ x: px, y: py }">
        <path :d="line<HeatUpDay>((d) => px(d.day), (d) => py(d.supply_c)).curve(curveStepAfter)(steps) ?? ''" />
        <circle v-for="r in onChart" :key="r.at" :class="{ off: r.off }" :cx="px(r.day + 0.5)" :cy="py(r.supply_c)" r="4" />
      </template>
      <template #key><span class="k plan">programme</span> <span class="k">○ as read</span></template>
    </ChartFrame>
    <ElButton size="large" type="primary" @click="begin">Write down a reading</ElButton>
    <table v-if="heatUp.readings.length" class="grid-table">
      <thead><tr><th>When</th><th class="num">Day</th><th class="num">Supply</th><th class="num">Programme</th><th class="num">Moisture</th></tr></thead>
      <tbody>
        <tr v-for="r in heatUp.readings" :key="r.at" :class="{ off: r.off }">
          <td>{{ when(r.at) }}{{ r.who ? `, ${r.who}` : "" }}</td><td class="num">{{ r.day || "not sent yet" }}</td><td class="num">{{ c(r.supply_c) }}</td><td class="num">{{ c(r.wanted_c) }}</td><td class="num">{{ r.moisture_percent == null ? "" : `${r.moisture_percent.toFixed(1)} %` }}</td>
        </tr>
      </tbody>
    </table>
    <SiteForm v-if="reading" :title="`Heat-up: ${heatUp.name}`" :record="record" @close="reading = false">
      <label>Supply <QuantityField v-model="supply" label="Supply" quantity="temperature" :min="-20" :max="120" empty="not read" wide /></label>
      <label>Moisture by the carbide method <QuantityField v-model="moisture" label="Moisture" quantity="share" :min="0" :max="1" empty="not measured" wide /></label>
    </SiteForm>
  </article>
</template>

<style scoped>
article { max-width: 760px; margin-bottom: 24px; }
h2 { font-size: 19px; margin: 8px 0 2px; }
.note { color: var(--soft); margin: 0 0 6px; }
.done { color: var(--sound); font-weight: 600; }
path { fill: none; stroke: var(--ember); stroke-width: 2.5; }
circle { fill: var(--sheet); stroke: var(--ink); stroke-width: 2; }
circle.off { fill: var(--ember); stroke: var(--ember); }
.k { margin-right: 14px; }
.k.plan { border-bottom: 2.5px solid var(--ember); }
article :deep(.el-button--large) { min-height: 52px; font-size: 17px; margin: 8px 0; }
.grid-table { font-size: 16px; }
tr.off td { color: var(--ember); }
</style>
