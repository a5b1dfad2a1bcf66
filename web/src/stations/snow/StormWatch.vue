<script setup lang="ts">
/** A storm on the slab: what lies on it hour by hour, for each way of running it. */
import { line } from "d3-shape";
import { useIntervalFn } from "@vueuse/core";
import { computed, ref, watch } from "vue";
import { answer, api, type MeltControl, type StormRun } from "../../api/client";
import { store } from "../../job/store";
import { useTrial } from "../../job/trials";
import CheckField from "../../kit/CheckField.vue";
import ChartFrame from "../../kit/ChartFrame.vue";
import type { Column } from "../../kit/table";
import { show, type Quantity } from "../../units";
import { MELT_CONTROLS } from "../../words";
import { areaId, WAY_LINES } from "./area";
import SnowSurface from "./SnowSurface.vue";

const { job, design, units } = store;
const s = (q: Quantity, v: number | null | undefined) => show(q, v, units.value);
const worst = ref(false);
const hasFile = computed(() => Boolean(job.value?.site.weather?.file_id));
const { answer: run, trouble, old } = useTrial<StormRun>([() => design.value, areaId, worst], async () =>
  areaId.value ? answer(api.POST("/api/outdoors/storm", { body: { job: store.seen(job.value!) as never, trial: { area_id: areaId.value, worst_of_the_year: worst.value } } })) : null,
);
type Way = StormRun["ways"][number];
type Step = Way["steps"][number];
const ways = computed(() => run.value?.ways ?? []);
const chosen = ref<MeltControl>(job.value?.outdoors?.control ?? "sensor");
const way = computed(() => ways.value.find((w) => w.control === chosen.value) ?? ways.value[0]);
const steps = computed(() => way.value?.steps ?? []);
const at = ref(0);
const step = computed<Step | undefined>(() => steps.value[Math.min(at.value, steps.value.length - 1)]);
const hours = (t: number) => t - run.value!.snows_s[0]!;
const clock = (t: number) => `${Math.abs(hours(t) / 3600).toFixed(1)} h ${hours(t) < 0 ? "before" : "after"} the first flake`;
watch(run, (r, before) => r && !before && (at.value = Math.max(0, steps.value.findIndex((p) => p.time_s >= r.snows_s[1]!) - 1)));
const { pause, resume, isActive } = useIntervalFn(() => (at.value >= steps.value.length - 1 ? pause() : at.value++), 90, { immediate: false });
function play() {
  if (at.value >= steps.value.length - 1) at.value = 0;
  resume();
}
const last = computed(() => steps.value.at(-1)?.time_s ?? 1);
/** Surface with tube, m²: heat is told for the whole area, in the viewer's units. */
const heated = computed(() => design.value?.outdoors?.areas.find((a) => a.id === run.value?.area_id)?.heated_m2 ?? 0);
const most = computed(() => Math.max(1, ...ways.value.flatMap((w) => w.steps.map((p) => p.snow_mm))) * 1.1);
const range = computed(() => {
  const all = ways.value.flatMap((w) => w.steps.flatMap((p) => [p.surface_c, p.air_c, p.heated ? p.water_c : p.surface_c]));
  return { from: Math.floor(Math.min(0, ...all)) - 1, to: Math.ceil(Math.max(5, ...all)) + 1 };
});
const columns: Column<Step>[] = [
  { key: "time", head: "Time", value: (p) => p.time_s, quantity: "time" },
  { key: "falls", head: "Snowfall", value: (p) => p.snowfall_mm_h, quantity: "snowfall" },
  { key: "snow", head: "Snow lies", value: (p) => p.snow_mm, quantity: "snow" },
  { key: "surface", head: "Surface", value: (p) => p.surface_c, quantity: "temperature" },
  { key: "water", head: "Fluid", value: (p) => p.water_c, quantity: "temperature" },
  { key: "heat", head: "Heat", value: (p) => p.heat_w_m2, quantity: "flux" },
];
const toTime = (t: number) => steps.value.reduce((best, p, i) => (Math.abs(p.time_s - t) < Math.abs(steps.value[best]!.time_s - t) ? i : best), 0);
const h = (v: number | null | undefined) => (v === null || v === undefined ? "not in this time" : v < 0.06 ? "at once" : `${v.toFixed(1)} h`);
const choose = (c: MeltControl) => store.edit("choose how it is started", (j) => (j.outdoors!.control = c));
</script>

<template>
  <div class="storm" :class="{ old }">
    <p v-if="trouble" role="alert">The storm is not calculated: {{ trouble }}</p>
    <p v-else-if="!run">Calculating…</p>
    <template v-else-if="way && step">
      <p class="says">
        {{ worst ? "The worst storm of the weather file" : "The storm as typed" }}: {{ s("snow", run.falls_mm) }} of water in {{ ((run.snows_s[1]! - run.snows_s[0]!) / 3600).toFixed(1) }} h. From a cold slab it takes <b>{{ h(run.warm_from_cold_h) }}</b> until the whole surface is above freezing, from idling <b>{{ h(run.warm_from_idle_h) }}</b>.
        <CheckField v-if="hasFile" v-model="worst" label="Worst storm of the weather file">Worst storm of the weather file</CheckField>
      </p>
      <div class="player">
        <ElButton size="small" :aria-label="isActive ? 'Stop' : 'Watch the storm'" @click="isActive ? pause() : play()">{{ isActive ? "Stop" : "Watch" }}</ElButton>
        <ElSlider v-model="at" :min="0" :max="steps.length - 1" :show-tooltip="false" aria-label="Time in the storm" :format-value-text="() => clock(step!.time_s)" />
        <span class="at">{{ clock(step.time_s) }}</span>
      </div>
      <ElRadioGroup v-model="chosen" class="faces" aria-label="Way of running it">
        <ElRadioButton v-for="w in ways" :key="w.control" :value="w.control" class="face">
          <SnowSurface :step="w.steps[Math.min(at, w.steps.length - 1)]!" :area-id="areaId" />
          <b>{{ MELT_CONTROLS[w.control] }}</b>
          <span>{{ s("snow", w.steps[Math.min(at, w.steps.length - 1)]!.snow_mm) }} lies, surface {{ s("temperature", w.steps[Math.min(at, w.steps.length - 1)]!.surface_c) }}</span>
        </ElRadioButton>
      </ElRadioGroup>
      <div class="charts">
        <ChartFrame
          question="What lies on it?" :width="400" :height="190" :columns="columns" :rows="steps" label="Snow that lies, as water, over the storm"
          :x="{ quantity: 'time', from: 0, to: last, name: 'time' }" :y="{ quantity: 'snow', from: 0, to: most, name: 'snow' }"
          :read="(t) => { const p = steps[toTime(t)]; return p ? `${s('snow', p.snow_mm)}, ${s('temperature', p.surface_c)}` : ''; }">
          <template #default="{ x, y, plot }">
            <rect class="falling" :x="x(run.snows_s[0]!)" :width="x(run.snows_s[1]!) - x(run.snows_s[0]!)" :y="plot.top" :height="plot.bottom - plot.top" />
            <path v-for="w in ways" :key="w.control" class="way" :stroke="WAY_LINES[w.control].tint" :stroke-dasharray="WAY_LINES[w.control].dash" :d="line<Step>().x((p) => x(p.time_s)).y((p) => y(p.snow_mm))(w.steps) ?? ''" />
            <line class="now" :x1="x(step.time_s)" :x2="x(step.time_s)" :y1="plot.top" :y2="plot.bottom" />
          </template>
          <template #key><i class="k falling"></i> it snows <template v-for="w in ways" :key="w.control"><svg class="dash" width="22" height="8" aria-hidden="true"><line x1="1" x2="21" y1="4" y2="4" :stroke="WAY_LINES[w.control].tint" stroke-width="2" :stroke-dasharray="WAY_LINES[w.control].dash" /></svg> {{ MELT_CONTROLS[w.control] }} </template></template>
        </ChartFrame>
        <ChartFrame
          :question="`Slab and fluid, ${MELT_CONTROLS[way.control]}`" :width="400" :height="190" :columns="columns" :rows="steps" label="Surface, fluid and air over the storm"
          :x="{ quantity: 'time', from: 0, to: last, name: 'time' }" :y="{ quantity: 'temperature', ...range, name: 'temperature' }"
          :read="(t) => { const p = steps[toTime(t)]; return p ? `surface ${s('temperature', p.surface_c)}, ${p.heated ? `fluid ${s('temperature', p.water_c)}` : 'off'}` : ''; }">
          <template #default="{ x, y, plot }">
            <line class="zero" :x1="plot.left" :x2="plot.right" :y1="y(0)" :y2="y(0)" />
            <path class="air" :d="line<Step>().x((p) => x(p.time_s)).y((p) => y(p.air_c))(steps) ?? ''" />
            <path class="water" :d="line<Step>().defined((p) => p.heated).x((p) => x(p.time_s)).y((p) => y(p.water_c))(steps) ?? ''" />
            <path class="surface" :d="line<Step>().x((p) => x(p.time_s)).y((p) => y(p.surface_c))(steps) ?? ''" />
            <line class="now" :x1="x(step.time_s)" :x2="x(step.time_s)" :y1="plot.top" :y2="plot.bottom" />
          </template>
          <template #key><i class="k surface"></i> surface <i class="k water"></i> fluid <i class="k air"></i> air</template>
        </ChartFrame>
      </div>
      <div class="table" tabindex="0" role="region" aria-label="Ways of running it">
        <table class="grid-table">
          <thead><tr><th>Run</th><th class="num" title="Share of the time in which it snows">as asked</th><th class="num">most snow</th><th class="num" title="After the last flake">clear after</th><th class="num">froze again</th><th class="num">fluid over slab</th><th class="num" title="Steepest rise of the fluid that the controller has to keep">rises by</th><th class="num">heat</th><th></th></tr></thead>
          <tbody>
            <tr v-for="w in ways" :key="w.control">
              <td>{{ MELT_CONTROLS[w.control] }}</td>
              <td class="num">{{ s("share", w.clear_share) }}</td>
              <td class="num">{{ s("snow", w.most_snow_mm) }}</td>
              <td class="num">{{ h(w.clear_after_h) }}</td>
              <td class="num" :class="{ bad: w.frozen_mm > 0.1 }">{{ s("snow", w.frozen_mm) }}</td>
              <td class="num">{{ s("difference", w.water_over_slab_k) }}</td>
              <td class="num">{{ s("difference", w.ramp_k_h) }}/h</td>
              <td class="num">{{ s("energy", w.heat_j_m2 * heated) }}</td>
              <td><span v-if="job?.outdoors?.control === w.control">chosen</span><ElButton v-else link size="small" :aria-label="`Run it ${MELT_CONTROLS[w.control]}`" @click="choose(w.control)">Choose</ElButton></td>
            </tr>
          </tbody>
        </table>
      </div>
    </template>
  </div>
</template>

<style scoped>
.says { margin: 0 0 6px; }
.player { display: flex; gap: 12px; align-items: center; }
.player .el-slider { flex: 1; min-width: 120px; }
.at { min-width: 180px; font-variant-numeric: tabular-nums; }
.faces { display: grid; grid-template-columns: repeat(3, minmax(0, 1fr)); gap: 10px; margin: 8px 0; }
.face { --el-radio-button-checked-bg-color: var(--paper); --el-radio-button-checked-text-color: var(--ink); }
.face :deep(.el-radio-button__inner) { width: 100%; height: 100%; display: grid; gap: 4px; text-align: left; white-space: normal; font-size: 13px; line-height: 1.3; color: var(--ink); background: var(--paper); border: 1px solid var(--line); border-radius: 4px; padding: 6px; }
.face.is-active :deep(.el-radio-button__inner) { border-color: var(--ember); box-shadow: inset 0 0 0 1px var(--ember); }
.charts { display: grid; grid-template-columns: repeat(auto-fit, minmax(300px, 1fr)); gap: 8px 20px; }
.table { overflow-x: auto; margin-top: 8px; }
.num { text-align: right; }
.bad { color: var(--ember); font-weight: 650; }
.falling { fill: var(--faint); background: var(--faint); }
.way { fill: none; stroke-width: 2; }
.now { stroke: var(--ink); stroke-width: 0.8; }
.zero { stroke: var(--soft); stroke-dasharray: 2 2; }
.surface { stroke: var(--ember); stroke-width: 2; fill: none; }
.water { stroke: var(--ink); stroke-width: 1.5; stroke-dasharray: 5 3; fill: none; }
.air { stroke: var(--soft); stroke-width: 1.2; fill: none; }
.k { display: inline-block; width: 18px; height: 8px; }
.k.surface { border-top: 2px solid var(--ember); }
.k.water { border-top: 2px dashed var(--ink); }
.k.air { border-top: 1.5px solid var(--soft); }
.dash { display: inline-block; width: 22px !important; vertical-align: middle; }
@media (max-width: 700px) { .faces { grid-template-columns: 1fr; } .at { min-width: 0; } }
</style>
