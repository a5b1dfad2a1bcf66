<script setup lang="ts">
/** A year of the weather file: how often a flux is enough, and what each way of running it takes. */
import { line } from "d3-shape";
import { computed } from "vue";
import { answer, api, type OutdoorYear } from "../../api/client";
import { store } from "../../job/store";
import { useTrial } from "../../job/trials";
import ChartFrame from "../../kit/ChartFrame.vue";
import JobField from "../../kit/JobField.vue";
import type { Column } from "../../kit/table";
import { show, type Quantity } from "../../units";
import { MELT_CONTROLS } from "../../words";
import { areaId } from "./area";

const { job, design, units } = store;
const s = (q: Quantity, v: number | null | undefined) => show(q, v, units.value);
const hasFile = computed(() => Boolean(job.value?.site.weather?.file_id));
const { answer: year, trouble, old } = useTrial<OutdoorYear>([() => design.value, areaId], async () =>
  hasFile.value && areaId.value ? answer(api.POST("/api/outdoors/year", { body: { job: store.seen(job.value!) as never, area_id: areaId.value } })) : null,
);
const curve = computed(() => year.value?.hours.curve ?? []);
type Point = OutdoorYear["hours"]["curve"][number];
const CLASSES = ["snow may lie", "half of it free", "all of it free"];
const top = computed(() => 1.1 * Math.max(1, year.value?.flux_w_m2 ?? 0, ...curve.value.map((p) => p.flux_w_m2[2]!)));
const columns: Column<Point>[] = [
  { key: "share", head: "Hours of snow", value: (p) => p.share, quantity: "share" },
  ...CLASSES.map((head, k): Column<Point> => ({ key: `c${k}`, head, value: (p) => p.flux_w_m2[k], quantity: "flux" })),
];
const nearest = (v: number) => curve.value.reduce<Point | undefined>((best, p) => (!best || Math.abs(p.share - v) < Math.abs(best.share - v) ? p : best), undefined);
const DASH = ["2 4", "8 4", "none"];
const count = (v: number) => Math.round(v).toLocaleString("en");
</script>

<template>
  <div class="year" :class="{ old }">
    <p v-if="!hasFile">A year needs a weather file: open one at Site. Hour by hour its air, wind, humidity and snow are put on the slab.</p>
    <template v-else>
      <p v-if="trouble" role="alert">The year is not calculated: {{ trouble }}</p>
      <p v-if="!year && !trouble">Calculating…</p>
      <p v-if="trouble || (year && !year.hours.from_file)" class="ask">Snow of a year, as water, where the file does not say what falls <JobField path="outdoors.snow_mm" label="Snow of a year" empty="by the file" /></p>
      <template v-if="year">
        <p>
          It snows in <b>{{ count(year.hours.snow_hours) }}</b> hours, {{ s("snow", year.hours.snow_mm) }} of water. What this area is given, {{ s("flux", year.flux_w_m2) }}, is enough in <b>{{ s("share", year.hours.clear_share) }}</b> of them if the slab is warm.
        </p>
        <div class="two">
          <ChartFrame
            question="How much is enough?" :width="400" :height="230" :columns="columns" :rows="curve" label="Flux against the share of hours of snow in which it keeps the surface as clear"
            :x="{ quantity: 'share', from: 0.5, to: 1, name: 'hours of snow in which it is clear' }" :y="{ quantity: 'flux', from: 0, to: top, name: 'flux' }"
            :read="(v) => { const p = nearest(v); return p ? `${s('share', p.share)}: ${p.flux_w_m2.map((f) => s('flux', f)).join(', ')}` : ''; }">
            <template #default="{ x, y, plot }">
              <path v-for="(c, k) in CLASSES" :key="c" class="class" :stroke-dasharray="DASH[k]" :d="line<Point>().x((p) => x(p.share)).y((p) => y(p.flux_w_m2[k]!))(curve) ?? ''" />
              <path class="has" :d="`M${plot.left},${y(year.flux_w_m2)} H${plot.right}`" />
              <text :x="plot.left + 4" :y="y(year.flux_w_m2) - 4">this area</text>
            </template>
            <template #key><template v-for="(c, k) in CLASSES" :key="c"><svg class="dash" width="22" height="8" aria-hidden="true"><line x1="1" x2="21" y1="4" y2="4" stroke="currentColor" stroke-width="2" :stroke-dasharray="DASH[k]" /></svg> {{ c }} </template></template>
          </ChartFrame>
          <div class="table" tabindex="0" role="region" aria-label="Ways of running it for a year">
            <h3>With the slab as it is</h3>
            <table class="grid-table">
              <thead><tr><th>Run</th><th class="num">as asked</th><th class="num">most snow</th><th class="num">hours with ice</th><th class="num">hours heated</th><th class="num">heat</th></tr></thead>
              <tbody>
                <tr v-for="w in year.ways" :key="w.control">
                  <td>{{ MELT_CONTROLS[w.control] }}</td><td class="num">{{ s("share", w.clear_share) }}</td><td class="num">{{ s("snow", w.most_snow_mm) }}</td><td class="num">{{ count(w.ice_hours) }}</td><td class="num">{{ count(w.heated_hours) }}</td>
                  <td class="num">{{ s("energy", w.heat_j) }}</td>
                </tr>
              </tbody>
            </table>
            <p class="quiet">Heat of a year over all areas, as if all were like this one; what stays in the mains and the source is not in it.</p>
          </div>
        </div>
      </template>
    </template>
  </div>
</template>

<style scoped>
.two { display: grid; gap: 8px 24px; }
.two .chart { max-width: 560px; }
.num { text-align: right; }
.class { fill: none; stroke: var(--ink); stroke-width: 1.8; }
.has { stroke: var(--ember); stroke-width: 2; }
h3 { margin: 6px 0; font-size: 14px; }
.table { overflow-x: auto; }
.quiet { color: var(--soft); font-size: 13px; }
.ask { display: flex; gap: 10px; align-items: center; flex-wrap: wrap; }
.dash { display: inline-block; width: 22px !important; vertical-align: middle; }
</style>
