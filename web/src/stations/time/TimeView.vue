<script setup lang="ts">
/** The house in time: warm-up, a week, a year, for several ways of running it beside each other. */
import { Delete, Plus } from "@element-plus/icons-vue";
import { line } from "d3-shape";
import { computed, watch } from "vue";
import { answer, api, type InTime } from "../../api/client";
import { buildUp, buildUpsFor } from "../../job/floors";
import { store } from "../../job/store";
import { useTrial } from "../../job/trials";
import ChartFrame from "../../kit/ChartFrame.vue";
import type { Tick } from "../../kit/charts";
import CheckField from "../../kit/CheckField.vue";
import ChoiceField from "../../kit/ChoiceField.vue";
import { moneyIn } from "../../kit/money";
import QuantityField from "../../kit/QuantityField.vue";
import type { Column } from "../../kit/table";
import { show, type Quantity } from "../../units";
import { TIME_CONTROLS } from "../../words";
import { dayOf } from "../cooling/summer";
import { PLAN, useStationView } from "../view";
import { asked, begin, LINES, nameOf, plainVariant, type Variant } from "./variants";

const { show: showView } = useStationView();
const { job, design, units, state } = store;
watch(() => state.id, (id) => begin(id), { immediate: true });
const s = (q: Quantity, v: number | null | undefined) => show(q, v, units.value);
const spans = [
  { value: "warm_up" as const, label: "Warm-up" },
  { value: "week" as const, label: "A week" },
  { value: "year" as const, label: "A year" },
];
const hasFile = computed(() => Boolean(job.value?.site.weather?.file_id));
const rooms = computed(() => (job.value?.rooms ?? []).filter((r) => r.floor && !r.unheated));
const room = computed({ get: () => (rooms.value.some((r) => r.id === asked.room) ? asked.room : (rooms.value[0]?.id ?? "")), set: (id: string) => (asked.room = id) });
const { answer: told, trouble, old } = useTrial<InTime>([() => design.value, () => JSON.stringify({ ...asked, room: room.value })], async () => {
  if (!rooms.value.length || (asked.span === "year" && !hasFile.value)) return null;
  const { span, day, price, delay_s, variants } = asked;
  return answer(api.POST("/api/time", { body: { job: store.seen(job.value!) as never, trial: { span, from_day: day ?? undefined, room_id: room.value, price_kwh: price ?? undefined, delay_s, variants: JSON.parse(JSON.stringify(variants)) as Variant[] } } }));
});
const runs = computed(() => told.value?.runs ?? []);
type Run = InTime["runs"][number];
type Point = Run["course"][number];
const buildUps = computed(() => buildUpsFor("floor").map((b) => ({ value: b.id, text: b.name })));
/** Names at the ends of lines: none over another. */
const NAME_PX = 11;
function apart(ys: number[]): number[] {
  const out = [...ys];
  const order = ys.map((_, i) => i).sort((a, b) => ys[b]! - ys[a]!);
  order.forEach((i, n) => {
    const below = n ? out[order[n - 1]!]! : Infinity;
    out[i] = Math.min(out[i]!, below - NAME_PX);
  });
  return out;
}
const named = (v: Variant) => nameOf(v, (id) => buildUp(id)?.name ?? id, (k) => s("difference", k));
const span = computed(() => ({ from: 0, to: Math.max(3600, ...runs.value.map((r) => r.course.at(-1)?.time_s ?? 0)) }));
const ticks = computed<Tick[] | undefined>(() => {
  if (asked.span === "warm_up") return undefined;
  const days = span.value.to / 86400;
  const first = told.value?.from_day ?? 0;
  const step = days > 30 ? 30.4 : 1;
  return Array.from({ length: Math.round(days / step) }, (_, k) => ({ value: (k + 0.5) * step * 86400, text: days > 30 ? (["J", "F", "M", "A", "M", "J", "J", "A", "S", "O", "N", "D"][k] ?? "") : told.value?.from_day === null || told.value?.from_day === undefined ? `day ${k + 1}` : dayOf((first + k) * 24) }));
});
const within = (of: (p: Point) => number | null | undefined, least: [number, number]) => {
  const all = runs.value.flatMap((r) => r.course.map(of)).filter((v): v is number => v !== null && v !== undefined);
  return { from: Math.floor(Math.min(least[0], ...all)) - 1, to: Math.ceil(Math.max(least[1], ...all)) + 1 };
};
const felt = computed(() => {
  const own = within((p) => p.felt_c, [15, 21]);
  if (!asked.all) return own;
  const all = (runs.value[0]?.course ?? []).flatMap((p) => p.rooms_felt_c);
  return { from: Math.min(own.from, Math.floor(Math.min(...all)) - 1), to: Math.max(own.to, Math.ceil(Math.max(...all)) + 1) };
});
const others = computed(() => (asked.all ? (runs.value[0]?.rooms ?? []).map((r, k) => ({ name: job.value?.rooms.find((x) => x.id === r.id)?.name ?? r.id, k })).filter((_, k) => runs.value[0]?.rooms[k]?.id !== room.value) : []));
const warm = computed(() => {
  const surface = within((p) => p.surface_c, [18, 25]);
  const supply = within((p) => p.supply_c, [20, 25]);
  return { from: Math.min(surface.from, supply.from), to: Math.max(surface.to, supply.to) };
});
const mostHeat = computed(() => 1.1 * Math.max(1, ...runs.value.flatMap((r) => r.course.map((p) => p.heat_w))));
const mostMonth = computed(() => 1.1 * Math.max(1, ...runs.value.flatMap((r) => r.months_j)));
const wanted = computed(() => job.value?.rooms.find((r) => r.id === room.value)?.room_c ?? 20);
const near = (r: Run, t: number) => r.course.reduce<Point | undefined>((best, p) => (!best || Math.abs(p.time_s - t) < Math.abs(best.time_s - t) ? p : best), undefined);
const read = (t: number) => runs.value.map((r) => s("temperature", near(r, t)?.felt_c)).join(", ");
const columns: Column<Point>[] = [
  { key: "time", head: "Time", value: (p) => p.time_s, quantity: "time" },
  { key: "out", head: "Outdoors", value: (p) => p.outdoor_c, quantity: "temperature" },
  { key: "felt", head: "Felt", value: (p) => p.felt_c, quantity: "temperature" },
  { key: "surface", head: "Floor", value: (p) => p.surface_c, quantity: "temperature" },
  { key: "supply", head: "Supply", value: (p) => p.supply_c, quantity: "temperature" },
  { key: "heat", head: "All floors", value: (p) => p.heat_w, quantity: "heat" },
];
const own = (r: Run) => r.rooms.find((x) => x.id === room.value);
const add = () => asked.variants.push({ ...plainVariant(), setback_k: 3 });
const cut = (v: Variant, on: boolean) => (v.cut_h = on ? [24, 36] : undefined);
const MONTHS = ["January", "February", "March", "April", "May", "June", "July", "August", "September", "October", "November", "December"];
const curve = (r: Run, x: (v: number) => number, y: (v: number) => number, of: (p: Point) => number | null | undefined) =>
  line<Point>().defined((p) => of(p) !== null && of(p) !== undefined).x((p) => x(p.time_s)).y((p) => y(of(p)!))(r.course) ?? "";
const hours = (h: number | null | undefined) => (h === null || h === undefined ? "not in this time" : h < 48 ? `${h.toFixed(1)} h` : `${(h / 24).toFixed(1)} days`);
</script>

<template>
  <section class="time" aria-label="Time">
    <ElEmpty v-if="!rooms.length" :image-size="60" description="No heated floor yet: draw rooms at Rooms." />
    <template v-else>
      <header class="bar">
        <ElSegmented v-model="asked.span" size="small" :options="spans" aria-label="What is followed" />
        <label>Room <ChoiceField v-model="room" :options="rooms.map((r) => ({ value: r.id, text: r.name }))" label="Room that is followed" /></label>
        <label v-if="asked.span === 'week' && hasFile">From day <QuantityField :model-value="asked.day ?? undefined" quantity="count" label="First day of the week" :min="0" :max="358" empty="the coldest" wide @update:model-value="asked.day = $event === undefined ? null : Math.round($event)" /></label>
        <ElButton size="small" @click="showView(PLAN)">Thermal picture on the plan</ElButton>
        <label>Source ready after <QuantityField :model-value="asked.delay_s" quantity="time" label="From the source's start to warm water" :min="0" :max="3600" @update:model-value="asked.delay_s = $event ?? 0" /></label>
        <CheckField v-model="asked.all" label="Every room on the first chart">every room</CheckField>
        <label v-if="asked.span === 'year'">Price of a kWh <QuantityField :model-value="asked.price ?? undefined" quantity="factor" label="Price of a kilowatt-hour" :min="0" :max="10" empty="none" @update:model-value="asked.price = $event ?? null" /></label>
      </header>
      <ul class="variants" aria-label="Variants">
        <li v-for="(v, i) in asked.variants" :key="i">
          <svg width="26" height="10" aria-hidden="true"><line x1="1" x2="25" y1="5" y2="5" :stroke="LINES[i]!.tint" stroke-width="2.5" :stroke-dasharray="LINES[i]!.dash" /></svg>
          <ChoiceField v-model="v.control" :options="TIME_CONTROLS" :label="`Control ${i + 1}`" />
          <label>cooler at night by <QuantityField :model-value="v.setback_k" quantity="difference" :label="`Set-back ${i + 1}`" :min="0" :max="10" @update:model-value="v.setback_k = $event ?? 0" /></label>
          <ChoiceField :model-value="v.build_up_id ?? undefined" :options="buildUps" :label="`Build-up ${i + 1}`" empty="floors as they are" @update:model-value="v.build_up_id = $event || undefined" />
          <CheckField v-if="v.setback_k" :model-value="v.optimum_start ?? false" :label="`Optimum start ${i + 1}`" @update:model-value="v.optimum_start = $event">warm again in time</CheckField>
          <CheckField :model-value="Boolean(v.floor_c)" :label="`Floor sensor ${i + 1}`" @update:model-value="v.floor_c = $event ? [20, Math.max(job!.rules.surface_limit_c, 21)] : undefined">floor sensor</CheckField>
          <template v-if="v.floor_c">
            <QuantityField :model-value="v.floor_c[0]" quantity="temperature" :label="`Floor at least ${i + 1}`" :min="5" :max="40" @update:model-value="v.floor_c = [$event ?? 20, v.floor_c![1]!]" /> to
            <QuantityField :model-value="v.floor_c[1]" quantity="temperature" :label="`Floor at most ${i + 1}`" :min="5" :max="40" @update:model-value="v.floor_c = [v.floor_c![0]!, $event ?? 29]" />
          </template>
          <CheckField v-if="asked.span !== 'year'" :model-value="Boolean(v.cut_h)" :label="`Power cut ${i + 1}`" @update:model-value="cut(v, $event)">power cut on the second day</CheckField>
          <ElButton v-if="asked.variants.length > 1" link :icon="Delete" :aria-label="`Take out variant ${i + 1}`" @click="asked.variants.splice(i, 1)" />
        </li>
        <li><ElButton v-if="asked.variants.length < 4" link type="primary" :icon="Plus" @click="add">Another one</ElButton></li>
      </ul>
      <p v-if="asked.span === 'year' && !hasFile">A year needs a weather file: open one at Site.</p>
      <p v-else-if="trouble" role="alert">It is not followed: {{ trouble }}</p>
      <p v-else-if="!told">Calculating…</p>
      <div v-else :class="{ old }">
        <p v-if="asked.span === 'warm_up'" class="says">From a house as cold as the design day leaves it, in {{ s("temperature", job!.site.outdoor_c) }}: <b v-for="(r, i) in runs" :key="i">{{ i ? " · " : "" }}{{ named(asked.variants[i] ?? {}) }}: {{ hours(own(r)?.warm_h) }}</b>.</p>
        <p v-else-if="asked.span === 'week'" class="says">{{ told.from_day === null || told.from_day === undefined ? "Seven design days; a weather file at Site gives real ones." : `From ${dayOf(told.from_day * 24)}, the house warm at its beginning.` }}</p>
        <div class="charts">
          <ChartFrame
            question="How warm does it feel?" :width="440" :height="210" :columns="columns" :rows="runs[0]?.course ?? []" label="What is felt in the room over the time"
            :x="{ quantity: 'time', ...span, ticks, name: ticks ? undefined : 'time' }" :y="{ quantity: 'temperature', ...felt, name: 'felt' }" :read="read">
            <template #default="{ x, y, plot }">
              <line class="wanted" :x1="plot.left" :x2="plot.right" :y1="y(wanted)" :y2="y(wanted)" />
              <g v-for="o in others" :key="`o${o.k}`" class="other">
                <path :d="curve(runs[0]!, x, y, (p) => p.rooms_felt_c[o.k])"><title>{{ o.name }}</title></path>
                <text :x="plot.right - 4" :y="apart(others.map((p) => y(runs[0]!.course.at(-1)!.rooms_felt_c[p.k]!) - 3))[others.indexOf(o)]">{{ o.name }}</text>
              </g>
              <path v-for="(r, i) in runs" :key="i" class="line" :stroke="LINES[i]!.tint" :stroke-dasharray="LINES[i]!.dash" :d="curve(r, x, y, (p) => p.felt_c)" />
            </template>
            <template #key><template v-for="(v, i) in asked.variants" :key="i"><svg class="dash" width="22" height="8" aria-hidden="true"><line x1="1" x2="21" y1="4" y2="4" :stroke="LINES[i]!.tint" stroke-width="2" :stroke-dasharray="LINES[i]!.dash" /></svg> {{ named(v) }} </template></template>
          </ChartFrame>
          <ChartFrame
            question="Floor, and the water that comes" :width="440" :height="210" :columns="columns" :rows="runs[0]?.course ?? []" label="Mean of the floor and supply over the time"
            :x="{ quantity: 'time', ...span, ticks, name: ticks ? undefined : 'time' }" :y="{ quantity: 'temperature', ...warm, name: 'temperature' }"
            :read="(t) => runs.map((r) => s('temperature', near(r, t)?.surface_c)).join(', ')">
            <template #default="{ x, y }">
              <template v-for="(r, i) in runs" :key="i">
                <path class="line" :stroke="LINES[i]!.tint" :stroke-dasharray="LINES[i]!.dash" :d="curve(r, x, y, (p) => p.surface_c)" />
                <path v-if="asked.span !== 'year'" class="supply" :stroke="LINES[i]!.tint" :d="curve(r, x, y, (p) => p.supply_c)" />
              </template>
            </template>
            <template #key>thick: the floor<template v-if="asked.span !== 'year'">; thin: supply while its valve is open</template></template>
          </ChartFrame>
          <ChartFrame
            v-if="asked.span !== 'year'" question="What do the floors take?" :width="440" :height="190" :columns="columns" :rows="runs[0]?.course ?? []" label="Heat of all floors over the time"
            :x="{ quantity: 'time', ...span, ticks, name: ticks ? undefined : 'time' }" :y="{ quantity: 'heat', from: 0, to: mostHeat, name: 'heat' }" :read="(t) => runs.map((r) => s('heat', near(r, t)?.heat_w)).join(', ')">
            <template #default="{ x, y }"><path v-for="(r, i) in runs" :key="i" class="thin" :stroke="LINES[i]!.tint" :stroke-dasharray="LINES[i]!.dash" :d="curve(r, x, y, (p) => p.heat_w)" /></template>
          </ChartFrame>
          <ChartFrame
            v-else question="Which months?" :width="440" :height="190" :columns="[{ key: 'm', head: 'Month', value: (m: number) => MONTHS[m] }, { key: 'j', head: 'Heat', value: (m: number) => runs[0]?.months_j[m], quantity: 'energy' }]" :rows="[0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11]" label="Heat by month"
            :x="{ quantity: 'time', from: 0, to: 12, ticks: MONTHS.map((m, k) => ({ value: k + 0.5, text: m[0]! })) }" :y="{ quantity: 'energy', from: 0, to: mostMonth, name: 'heat' }">
            <template #default="{ x, y, plot }">
              <template v-for="(r, i) in runs" :key="i"><rect v-for="(m, k) in r.months_j" :key="k" class="month" :fill="LINES[i]!.tint" :x="x(k) + 3 + (i * (x(1) - x(0) - 6)) / runs.length" :width="(x(1) - x(0) - 6) / runs.length - 1" :y="y(m)" :height="plot.bottom - y(m)" /></template>
            </template>
          </ChartFrame>
        </div>
        <div class="table" tabindex="0" role="region" aria-label="Variants in figures">
          <table class="grid-table">
            <thead><tr><th>Variant</th><th v-if="asked.span === 'warm_up'" class="num">warm after</th><th class="num">felt, coolest to warmest</th><th class="num">hours too cool</th><th class="num">floor up to</th><th class="num">heat</th><th class="num">starts</th><th v-if="runs.some((r) => r.condensing !== null && r.condensing !== undefined)" class="num">condensing</th><th v-if="runs.some((r) => r.seasonal)" class="num">heat over electricity</th><th v-if="runs.some((r) => r.cost !== null && r.cost !== undefined)" class="num">cost</th></tr></thead>
            <tbody>
              <tr v-for="(r, i) in runs" :key="i">
                <td>{{ named(asked.variants[i] ?? {}) }}</td>
                <td v-if="asked.span === 'warm_up'" class="num">{{ hours(own(r)?.warm_h) }}</td>
                <td class="num">{{ own(r)?.warm_h === null && asked.span === "warm_up" ? "–" : `${s("temperature", own(r)?.felt_c[0])} to ${s("temperature", own(r)?.felt_c[1])}` }}</td>
                <td class="num">{{ Math.round(own(r)?.cool_h ?? 0).toLocaleString("en") }}</td>
                <td class="num">{{ s("temperature", own(r)?.surface_c) }}</td>
                <td class="num">{{ s("energy", r.heat_j) }}</td>
                <td class="num">{{ r.starts.toLocaleString("en") }}</td>
                <td v-if="runs.some((x) => x.condensing !== null && x.condensing !== undefined)" class="num">{{ s("share", r.condensing) }}</td>
                <td v-if="runs.some((x) => x.seasonal)" class="num">{{ r.seasonal?.toFixed(2) ?? "–" }}</td>
                <td v-if="runs.some((x) => x.cost !== null && x.cost !== undefined)" class="num">{{ moneyIn(job!.purchasing?.prices?.currency ?? "€", r.cost ?? 0) }}</td>
              </tr>
            </tbody>
          </table>
        </div>
        <p class="quiet">Floors by the modes of their sections, rooms by five resistances and one capacity (ISO 13790), in steps of {{ asked.span === "year" ? "15" : "5" }} minutes. Starts are those of all floors together, without what else the source heats; where they ask for less than its least output, as often as its water warms and cools.</p>
      </div>
    </template>
  </section>
</template>

<style scoped>
.time { height: 100%; overflow: auto; padding: 10px 14px; }
.bar { display: flex; gap: 8px 18px; align-items: center; flex-wrap: wrap; }
.variants { list-style: none; margin: 8px 0; padding: 0; display: grid; gap: 4px; }
.variants li { display: flex; gap: 6px 14px; align-items: center; flex-wrap: wrap; }
.variants :deep(.choice), .bar :deep(.choice) { width: 190px; }
.says { margin: 6px 0; }
.charts { display: grid; grid-template-columns: repeat(auto-fit, minmax(310px, 1fr)); gap: 8px 20px; }
.table { overflow-x: auto; margin-top: 8px; }
.num { text-align: right; }
.line { fill: none; stroke-width: 2.2; }
.supply { fill: none; stroke-width: 0.9; }
.thin { fill: none; stroke-width: 1.3; }
.other path { fill: none; stroke: var(--soft); stroke-width: 0.9; }
.other text { text-anchor: end; font-size: 11px; fill: var(--soft); }
.wanted { stroke: var(--soft); stroke-dasharray: 2 2; }
.month { opacity: 0.85; }
.quiet { color: var(--soft); font-size: 13px; }
.dash { display: inline-block; width: 22px !important; vertical-align: middle; }
</style>
