<script setup lang="ts">
/** The plant over the year: does the source fit, and which water in which weather. */
import { line } from "d3-shape";
import { computed } from "vue";
import { answer, api } from "../../api/client";
import { store } from "../../job/store";
import { useTrial } from "../../job/trials";
import ChartFrame from "../../kit/ChartFrame.vue";
import type { Column } from "../../kit/table";
import { show, type Quantity } from "../../units";

const { design, units } = store;
const { answer: year, trouble, old } = useTrial([() => design.value], async () => (store.job.value?.plant ? answer(api.POST("/api/plant/year", { body: { job: store.seen(store.job.value) as never, trial: {} } })) : null));
const s = (q: Quantity, v: number | null | undefined) => show(q, v, units.value);
const points = computed(() => year.value?.points ?? []);
type Point = (typeof points.value)[number];
const span = computed(() => ({ from: points.value[0]?.outdoor_c ?? -10, to: points.value.at(-1)?.outdoor_c ?? 20 }));
const top = computed(() => 1.15 * Math.max(1, ...points.value.map((p) => Math.max(p.load_w, p.most_w))));
const mostHours = computed(() => Math.max(1, ...points.value.map((p) => p.hours)));
const least = computed(() => design.value?.plant?.size.least_w ?? 0);
const nearest = (t: number) => points.value.reduce<Point | undefined>((best, p) => (!best || Math.abs(p.outdoor_c - t) < Math.abs(best.outdoor_c - t) ? p : best), undefined);
const columns: Column<Point>[] = [
  { key: "outdoor", head: "Outdoors", value: (p) => p.outdoor_c, quantity: "temperature" },
  { key: "hours", head: "Hours", value: (p) => p.hours, quantity: "count" },
  { key: "load", head: "Load", value: (p) => p.load_w, quantity: "heat" },
  { key: "most", head: "Can give", value: (p) => p.most_w, quantity: "heat" },
  { key: "leaves", head: "Source", value: (p) => p.leaves_c, quantity: "temperature" },
  { key: "returns", head: "Return", value: (p) => p.returns_c, quantity: "temperature" },
  { key: "cop", head: "COP", value: (p) => p.cop, quantity: "factor" },
];
const lines = computed(() => design.value?.plant?.lines ?? []);
const DASHES = ["none", "6 3", "2 3", "8 3 2 3", "1 4"];
const supplies = computed(() => lines.value.flatMap((l) => l.curve.map((p) => p[1]!)).concat(points.value.flatMap((p) => (p.leaves_c ? [p.leaves_c] : []))));
const warmest = computed(() => Math.max(30, ...supplies.value) + 3);
type Told = { name: string; outdoor: number; supply: number };
const resetColumns: Column<Told>[] = [
  { key: "name", head: "Circuit", value: (r) => r.name },
  { key: "outdoor", head: "Outdoors", value: (r) => r.outdoor, quantity: "temperature" },
  { key: "supply", head: "Supply", value: (r) => r.supply, quantity: "temperature" },
];
const resetRows = computed<Told[]>(() => lines.value.flatMap((l) => l.curve.map((p) => ({ name: l.name, outdoor: p[0]!, supply: p[1]! }))));
const kWh = (j: number) => `${Math.round(j / 3.6e6).toLocaleString("en")} kWh`;
const pair = (p: number[]) => `${s("temperature", p[1])} at ${s("temperature", p[0])}`;
</script>

<template>
  <div class="year" :class="{ old }">
    <p v-if="trouble" role="alert">The year is not calculated: {{ trouble }}</p>
    <p v-else-if="!year">Calculating…</p>
    <template v-else>
      <ChartFrame
        question="Does the source fit?" :width="400" :height="230" :columns="columns" :rows="points"
        :label="`Load against what the source can give, from ${s('temperature', span.from)} to ${s('temperature', span.to)}`"
        :x="{ quantity: 'temperature', ...span, name: 'outdoors' }" :y="{ quantity: 'heat', from: 0, to: top, name: 'heat' }"
        :read="(t) => { const p = nearest(t); return p ? `${s('temperature', p.outdoor_c)}: ${s('heat', p.load_w)} of ${s('heat', p.most_w)}${year!.by_weather ? `, ${Math.round(p.hours)} h` : ''}` : ''; }">
        <template #default="{ x, y, plot }">
          <g v-if="year.by_weather"><rect v-for="p in points" :key="p.outdoor_c" class="hours" :x="x(p.outdoor_c) - (plot.right - plot.left) / points.length / 2 + 1" :width="(plot.right - plot.left) / points.length - 2" :y="plot.bottom - ((plot.bottom - plot.top) * 0.6 * p.hours) / mostHours" :height="((plot.bottom - plot.top) * 0.6 * p.hours) / mostHours" /></g>
          <path class="load" :d="line<Point>().x((p) => x(p.outdoor_c)).y((p) => y(p.load_w))(points) ?? ''" />
          <path class="most" :d="line<Point>().x((p) => x(p.outdoor_c)).y((p) => y(Math.min(top, p.most_w)))(points) ?? ''" />
          <path v-if="points[0]?.emitters_w && points[0].emitters_w < top" class="emitters" :d="`M${plot.left},${y(points[0].emitters_w)} H${plot.right}`" />
          <path class="least" :d="`M${plot.left},${y(least)} H${plot.right}`" />
        </template>
        <template #key><i class="k load"></i> load <i class="k most"></i> highest output <i class="k least"></i> lowest output <template v-if="points[0]?.emitters_w"><i class="k emitters"></i> all emitters and floors </template><template v-if="year.by_weather"><i class="k hours"></i> hours of the year</template></template>
      </ChartFrame>
      <ChartFrame
        question="Which water in which weather?" :width="400" :height="230" :columns="resetColumns" :rows="resetRows"
        label="Reset lines: supply temperature by outdoor temperature" :x="{ quantity: 'temperature', ...span, name: 'outdoors' }" :y="{ quantity: 'temperature', from: 15, to: warmest, name: 'supply' }"
        :read="(t) => `${s('temperature', t)} outdoors: source ${s('temperature', nearest(t)?.leaves_c)}`">
        <template #default="{ x, y }">
          <path class="source" :d="line<Point>().defined((p) => p.leaves_c !== null && p.leaves_c !== undefined).x((p) => x(p.outdoor_c)).y((p) => y(p.leaves_c!))(points) ?? ''" />
          <path v-for="(l, i) in lines" :key="l.id" class="reset" :stroke-dasharray="DASHES[i % DASHES.length]" :d="line<number[]>().x((p) => x(p[0]!)).y((p) => y(p[1]!))(l.curve) ?? ''" />
          <text v-for="l in lines" :key="`n${l.id}`" :x="x(l.curve[0]![0]!) + 4" :y="y(l.curve[0]![1]!) - 4">{{ l.name }}</text>
        </template>
        <template #key><i class="k source"></i> source; the circuits as named</template>
      </ChartFrame>
      <section aria-label="What a controller takes">
        <h3>What a controller takes</h3>
        <dl>
          <template v-for="l in lines" :key="l.id">
            <dt>{{ l.name }}</dt>
            <dd>two points: {{ l.two.map(pair).join(", ") }}, up to {{ s("difference", l.two_over_k) }} warmer than needed<br />three points: {{ l.three.map(pair).join(", ") }}, up to {{ s("difference", l.three_short_k) }} short</dd>
          </template>
          <template v-for="f in design?.plant?.fixed" :key="f.id">
            <dt>{{ f.name }}</dt>
            <dd>{{ s("temperature", f.wants_c) }} in all weather<template v-if="f.below_from_c !== null && f.below_from_c !== undefined">; the rooms' lines lie below that from {{ s("temperature", f.below_from_c) }} outdoors: hold the source at {{ s("temperature", f.safe_c) }} for it</template></dd>
          </template>
        </dl>
      </section>
      <section aria-label="The year">
        <h3>The year</h3>
        <p v-if="!year.by_weather" class="quiet">Hours, condensing and seasonal figures need a weather file: open one at Site.</p>
        <dl v-else>
          <dt>Heat of rooms and fixed users</dt><dd>{{ s("energy", year.heat_j) }}</dd>
          <dt>Hours of heating</dt><dd>{{ Math.round(year.hours).toLocaleString("en") }}</dd>
          <template v-if="year.condensing_h !== null && year.condensing_h !== undefined"><dt>of them condensing</dt><dd>{{ Math.round(year.condensing_h).toLocaleString("en") }}</dd></template>
          <dt>with a load below its lowest output</dt><dd>{{ Math.round(year.cycling_h).toLocaleString("en") }}</dd>
          <template v-if="year.seasonal"><dt>Heat over electricity</dt><dd>{{ year.seasonal.toFixed(2) }}</dd></template>
          <dt>Electricity of pumps</dt><dd>{{ kWh(year.pumps_j) }}</dd>
        </dl>
      </section>
    </template>
  </div>
</template>

<style scoped>
.year { display: grid; grid-template-columns: repeat(auto-fit, minmax(330px, 1fr)); gap: 8px 20px; padding: 8px 14px; align-content: start; }
.load { stroke: var(--ember); stroke-width: 2; fill: none; }
.most { stroke: var(--ink); stroke-width: 1.6; fill: none; }
.least { stroke: var(--ink); stroke-dasharray: 3 3; fill: none; }
.emitters { stroke: var(--sound); stroke-dasharray: 7 3; fill: none; }
.hours { fill: var(--faint); }
.reset { stroke: var(--ink); stroke-width: 1.4; fill: none; }
.source { stroke: var(--ember); stroke-width: 2; fill: none; }
.k { display: inline-block; width: 16px; height: 0; border-top: 2px solid var(--ink); vertical-align: middle; margin-left: 8px; }
.k.load, .k.source { border-color: var(--ember); }
.k.least { border-top-style: dashed; }
.k.emitters { border-color: var(--sound); border-top-style: dashed; }
.k.hours { border-top: 9px solid var(--faint); }
dl { display: grid; grid-template-columns: minmax(90px, max-content) minmax(0, 1fr); gap: 3px 12px; margin: 0; }
dt { color: var(--soft); }
dd { margin: 0; }
.quiet { color: var(--soft); }
</style>
