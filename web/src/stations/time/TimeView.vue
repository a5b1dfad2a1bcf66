<script setup lang="ts">
/** The house in time: warm-up, a week, a year, for several ways of running it beside each other. */
import { area, line } from "d3-shape";
import { computed, watch } from "vue";
import { answer as got, api, windowOf, type InTime } from "../../api/client";
import { buildUp } from "../../job/floors";
import { store } from "../../job/store";
import { useTrial } from "../../job/trials";
import ChartFrame from "../../kit/ChartFrame.vue";
import type { Tick } from "../../kit/charts";
import CheckField from "../../kit/CheckField.vue";
import ChoiceField from "../../kit/ChoiceField.vue";
import LongWork from "../../kit/LongWork.vue";
import QuantityField from "../../kit/QuantityField.vue";
import type { Column } from "../../kit/table";
import { show, type Quantity } from "../../units";
import { dayOf } from "../cooling/summer";
import { PLAN, useStationView } from "../view";
import { coveringName } from "../../products/products";
import TimeFigures from "./TimeFigures.vue";
import TimeVariants from "./TimeVariants.vue";
import { asked, begin, hoursOf, LINES, nameOf, selfLimiting, type Variant } from "./variants";

const { show: showView } = useStationView();
const { job, design, units, state } = store;
watch(() => state.id, (id) => begin(id), { immediate: true });
const s = (q: Quantity, v: number | null | undefined) => show(q, v, units.value);
const spans = [
  { value: "warm_up" as const, label: "Warm-up" },
  { value: "week" as const, label: "A week" },
  { value: "sun" as const, label: "Sun on the floor" },
  { value: "year" as const, label: "A year" },
];
const hasFile = computed(() => Boolean(job.value?.site.weather?.file_id));
const rooms = computed(() => (job.value?.rooms ?? []).filter((r) => r.floor && !r.unheated));
const room = computed({ get: () => (rooms.value.some((r) => r.id === asked.room) ? asked.room : (rooms.value[0]?.id ?? "")), set: (id: string) => (asked.room = id) });
const sunny = computed(() => asked.span === "sun" || (asked.span !== "warm_up" && hasFile.value));
const { answer, trouble, old, share, stopped, stop, goOn } = useTrial<{ span: typeof asked.span; told: InTime }>([() => design.value, () => JSON.stringify({ ...asked, room: room.value })], async (how) => {
  if (!rooms.value.length || (asked.span === "year" && !hasFile.value)) return null;
  const { span, day, price, delay_s, sun_on_floor, variants } = asked;
  const told = await got(api.POST("/api/time", { body: { job: store.seen(job.value!) as never, trial: { span, from_day: day ?? undefined, room_id: room.value, price_kwh: price ?? undefined, delay_s, sun_on_floor, variants: JSON.parse(JSON.stringify(variants)) as Variant[] } }, ...how }));
  return { span, told };
}, windowOf("time"));
/** Of what is followed now: a warm-up's course says nothing under a year. */
const told = computed(() => (answer.value?.span === asked.span && !stopped.value ? answer.value.told : null));
const runs = computed(() => told.value?.runs ?? []);
type Run = InTime["runs"][number];
type Point = Run["course"][number];
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
const named = (v: Variant) => nameOf(v, { buildUp: (id) => buildUp(id)?.name ?? id, covering: coveringName, kelvin: (k) => s("difference", k) });
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
  { key: "water", head: "Its floor", value: (p) => p.water_w, quantity: "heat" },
  { key: "sun", head: "Sun", value: (p) => p.sun_w, quantity: "heat" },
];
const sentence = (words: string) => words.charAt(0).toUpperCase() + words.slice(1);
/** What the floor does when the sun is on it. */
const limits = computed(() => {
  const all = runs.value.map((r) => selfLimiting(r.course));
  // one whose valve is open tells more
  const k = Math.max(0, all.findIndex((f) => f && !f.shut));
  const found = all[k];
  if (!found) return "";
  const gives = found.shut ? `its valve is shut then${found.dawn_w > 1 ? `, after ${s("heat", found.dawn_w)} before sunrise` : ""}` : found.noon_w < found.dawn_w - 1 ? `its water gives ${s("heat", found.noon_w)} then, ${s("heat", found.dawn_w)} before sunrise: a warmer surface gives the room less by itself` : `its water gives ${s("heat", found.noon_w)} then, no less than before sunrise`;
  return `Up to ${s("heat", found.sun_w)} of sun come in. ${sentence(named(asked.variants[k] ?? {}))}: ${gives}. It feels up to ${s("temperature", found.felt_c)}.`;
});
const mostRoom = computed(() => 1.1 * Math.max(1, ...runs.value.flatMap((r) => r.course.map((p) => Math.max(p.sun_w, p.water_w)))));
const light = (r: Run, x: (v: number) => number, y: (v: number) => number) => area<Point>().x((p) => x(p.time_s)).y0(y(0)).y1((p) => y(p.sun_w))(r.course) ?? "";
const own = (r: Run) => r.rooms.find((x) => x.id === room.value);
const MONTHS = ["January", "February", "March", "April", "May", "June", "July", "August", "September", "October", "November", "December"];
const curve = (r: Run, x: (v: number) => number, y: (v: number) => number, of: (p: Point) => number | null | undefined) =>
  line<Point>().defined((p) => of(p) !== null && of(p) !== undefined).x((p) => x(p.time_s)).y((p) => y(of(p)!))(r.course) ?? "";
</script>

<template>
  <section class="time" aria-label="Time">
    <ElEmpty v-if="!rooms.length" :image-size="60" description="No heated floor yet: draw rooms at Rooms." />
    <template v-else>
      <header class="bar">
        <ElSegmented v-model="asked.span" size="small" :options="spans" aria-label="What is followed" />
        <label>Room <ChoiceField v-model="room" :options="rooms.map((r) => ({ value: r.id, text: r.name }))" label="Room that is followed" /></label>
        <label v-if="(asked.span === 'week' || asked.span === 'sun') && hasFile">From day <QuantityField :model-value="asked.day ?? undefined" quantity="count" :label="asked.span === 'sun' ? 'First of the days around a sunny one' : 'First day of the week'" :min="0" :max="358" :empty="asked.span === 'sun' ? 'the sunniest' : 'the coldest'" wide @update:model-value="asked.day = $event === undefined ? null : Math.round($event)" /></label>
        <ElButton size="small" @click="showView(PLAN)">Thermal picture on the plan</ElButton>
        <label>Source ready after <QuantityField :model-value="asked.delay_s" quantity="time" label="From the source's start to warm water" :min="0" :max="3600" @update:model-value="asked.delay_s = $event ?? 0" /></label>
        <label v-if="sunny">Of the sun, on the floor <QuantityField :model-value="asked.sun_on_floor" quantity="share" label="Share of the sun that falls on the floor" :min="0" :max="0.9" @update:model-value="asked.sun_on_floor = $event ?? 0.4" /></label>
        <CheckField v-model="asked.all" label="Every room on the first chart">every room</CheckField>
        <label v-if="asked.span === 'year'">Price of a kWh <QuantityField :model-value="asked.price ?? undefined" quantity="factor" label="Price of a kilowatt-hour" :min="0" :max="10" empty="none" @update:model-value="asked.price = $event ?? null" /></label>
      </header>
      <TimeVariants :sunny="sunny" />
      <p v-if="asked.span === 'year' && !hasFile">A year needs a weather file: open one at Site.</p>
      <p v-else-if="trouble" role="alert">It is not followed: {{ trouble }}</p>
      <LongWork :share="share" :stopped="stopped" what="The house is followed" @stop="stop" @again="goOn" />
      <p v-if="!told && !trouble && share === null && !stopped && !(asked.span === 'year' && !hasFile)">Calculating…</p>
      <div v-if="told && !trouble && !(asked.span === 'year' && !hasFile)" :class="{ old }">
        <p v-if="asked.span === 'warm_up'" class="says">From a house as cold as the design day leaves it, in {{ s("temperature", job!.site.outdoor_c) }}: <b v-for="(r, i) in runs" :key="i">{{ i ? " · " : "" }}{{ named(asked.variants[i] ?? {}) }}: {{ hoursOf(own(r)?.warm_h) }}</b>.</p>
        <p v-else-if="asked.span === 'week'" class="says">{{ told.from_day === null || told.from_day === undefined ? "Seven design days; a weather file at Site gives real ones." : `From ${dayOf(told.from_day * 24)}, the house warm at its beginning.` }}</p>
        <p v-else-if="asked.span === 'sun'" class="says">{{ told.from_day === null || told.from_day === undefined ? "A clear day between two under clouds, in March, at the design temperature; a weather file at Site gives real ones." : `${dayOf((told.from_day + 1) * 24)}, and the days before and after it.` }} <b v-if="limits">{{ limits }}</b></p>
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
            v-if="asked.span === 'sun'" question="What do sun and water give the room?" :width="440" :height="190" :columns="columns" :rows="runs[0]?.course ?? []" label="Sun in the room and heat of its floor's water over the time"
            :x="{ quantity: 'time', ...span, ticks }" :y="{ quantity: 'heat', from: 0, to: mostRoom, name: 'heat' }" :read="(t) => runs.map((r) => s('heat', near(r, t)?.water_w)).join(', ')">
            <template #default="{ x, y }">
              <template v-for="(r, i) in runs" :key="i">
                <path class="light" :d="light(r, x, y)" />
                <path class="thin" :stroke="LINES[i]!.tint" :stroke-dasharray="LINES[i]!.dash" :d="curve(r, x, y, (p) => p.water_w)" />
              </template>
            </template>
            <template #key>filled: sun that comes in; lines: its floor's water</template>
          </ChartFrame>
          <ChartFrame
            v-else-if="asked.span !== 'year'" question="What do the floors take?" :width="440" :height="190" :columns="columns" :rows="runs[0]?.course ?? []" label="Heat of all floors over the time"
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
        <TimeFigures :runs="runs" :names="asked.variants.map(named)" :span="asked.span" :room="room" />
        <p class="quiet">Floors by the modes of their sections, rooms by five resistances and one capacity (ISO 13790), in steps of {{ asked.span === "year" ? "15" : "5" }} minutes. Starts are those of all floors together, without what else the source heats; where they ask for less than its least output, as often as its water warms and cools.</p>
      </div>
    </template>
  </section>
</template>

<style scoped>
.time { height: 100%; overflow: auto; padding: 10px 14px; }
.bar { display: flex; gap: 8px 18px; align-items: center; flex-wrap: wrap; }
.bar :deep(.choice) { width: 190px; }
.says { margin: 6px 0; }
.charts { display: grid; grid-template-columns: repeat(auto-fit, minmax(310px, 1fr)); gap: 8px 20px; }
.line { fill: none; stroke-width: 2.2; }
.supply { fill: none; stroke-width: 0.9; }
.thin { fill: none; stroke-width: 1.3; }
.other path { fill: none; stroke: var(--soft); stroke-width: 0.9; }
.other text { text-anchor: end; font-size: 11px; fill: var(--soft); }
.light { fill: var(--warn); fill-opacity: 0.22; stroke: none; }
.wanted { stroke: var(--soft); stroke-dasharray: 2 2; }
.month { opacity: 0.85; }
.quiet { color: var(--soft); font-size: 13px; }
.dash { display: inline-block; width: 22px !important; vertical-align: middle; }
</style>
