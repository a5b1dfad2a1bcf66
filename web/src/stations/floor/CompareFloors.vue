<script setup lang="ts">
/** Floors for one room side by side: what is varied, how far the sweep has come, chart and table of the variants, the best first. */
import { computed, onBeforeUnmount, reactive, ref, watch } from "vue";
import { answer, api, type PlateChoice, type Sweep, type Variant } from "../../api/client";
import ChartFrame from "../../kit/ChartFrame.vue";
import type { Column } from "../../kit/table";
import { BREACHES, PLATES, PREFERENCES } from "../../words";
import * as floors from "../../job/floors";
import { store } from "../../job/store";
import { dialect, parse, show } from "../../units";
import ChoiceField from "../../kit/ChoiceField.vue";
import DataTable from "../../kit/DataTable.vue";
import CheckField from "../../kit/CheckField.vue";
import { coveringName, coverings, tubeName, tubes } from "../../products/products";

const props = defineProps<{ roomId: string }>();
const { job, units } = store;
const s = (q: Parameters<typeof show>[0], v: number | null | undefined) => show(q, v, units.value);

const sweep = reactive<Sweep>({ build_up_ids: [], covering_ids: [], tube_ids: [], spacings_m: [...(job.value?.rules.spacings_m ?? [])], covers_m: [], insulations_m2k_w: [], plates: [], supplies_c: [] });
type List = "build_up_ids" | "covering_ids" | "tube_ids" | "spacings_m" | "plates";
const axes = computed(() => [
  { key: "spacings_m" as const, name: "Spacing", options: (job.value?.rules.spacings_m ?? []).map((v) => ({ value: v as string | number, name: s("size", v) })) },
  { key: "tube_ids" as const, name: "Tube", options: tubes().map((t) => ({ value: t.id as string | number, name: t.name })) },
  { key: "covering_ids" as const, name: "Covering", options: coverings().map((c) => ({ value: c.id as string | number, name: c.name })) },
  { key: "build_up_ids" as const, name: "Build-up", options: floors.buildUpsFor("floor").map((b) => ({ value: b.id as string | number, name: b.name })) },
  { key: "plates" as const, name: "Plate", options: Object.entries(PLATES).map(([value, name]) => ({ value: value as string | number, name })) },
]);
function toggle(key: List, value: string | number) {
  const list = sweep[key] as (string | number)[];
  const at = list.indexOf(value);
  if (at >= 0) list.splice(at, 1);
  else list.push(value);
}
const has = (key: List, value: string | number) => (sweep[key] as (string | number)[]).includes(value);
const wrong = ref("");
const LISTS = [
  { key: "covers_m", quantity: "size", name: "Covers of tube", label: "Covers over the tube to compare", low: 0, high: 1, metric: "20; 40; 60 mm", us: "1; 2; 3 in" },
  { key: "insulations_m2k_w", quantity: "resistance", name: "Insulation", label: "Insulations to compare", low: 0, high: 20, metric: "1; 2; 4", us: "5; 10; 20" },
  { key: "supplies_c", quantity: "temperature", name: "Given supply", label: "Supply temperatures to compare", low: 15, high: 90, metric: "35; 45 °C", us: "95; 110 °F" },
] as const;
type Typed = (typeof LISTS)[number];
/** What is being typed stays while results come in. */
const texts = reactive({ covers_m: "", insulations_m2k_w: "", supplies_c: "" });
const retell = () => LISTS.forEach((l) => (texts[l.key] = sweep[l.key].map((v) => s(l.quantity, v).split(" ")[0]).join("; ")));
watch(units, retell);
/** "20; 40; 60 mm" in the job's units: a unit at the end counts for what stands before it too. */
function type(l: Typed) {
  const parts = texts[l.key].split(/;|,\s/).map((part) => part.trim()).filter(Boolean);
  const unit = /^[\d.,-]+\s*(\D+)$/.exec(parts.at(-1) ?? "")?.[1] ?? "";
  const values = parts.map((part) => parse(l.quantity, /\d$/.test(part) && unit ? `${part} ${unit}` : part, units.value));
  const bad = parts.find((_, i) => values[i] === null || values[i]! < l.low - 1e-9 || values[i]! > l.high + 1e-9);
  wrong.value = bad === undefined ? "" : `“${bad}” is not between ${s(l.quantity, l.low)} and ${s(l.quantity, l.high)}`;
  if (bad !== undefined) return;
  sweep[l.key] = values as number[];
  retell();
}

const variants = ref<Variant[]>([]);
const total = ref(0);
const busy = ref(false);
const trouble = ref("");
let run = 0;
const BATCH = 40;
async function start() {
  const mine = ++run;
  busy.value = true;
  trouble.value = "";
  total.value = 0;
  const got: Variant[] = [];
  try {
    do {
      const body = { job: store.seen(job.value!), room_id: props.roomId, sweep: { ...sweep }, from: got.length, most: BATCH };
      const part = await answer(api.POST("/api/floor/compare", { body }));
      if (mine !== run) return;
      got.push(...part.variants);
      total.value = part.total;
      variants.value = [...got].sort(floors.byRank);
      if (part.variants.length === 0) break;
    } while (got.length < total.value);
  } catch (e) {
    if (mine === run) trouble.value = e instanceof Error ? e.message : String(e);
  } finally {
    if (mine === run) busy.value = false;
  }
}
function stop() {
  run += 1;
  busy.value = false;
}
let soon: ReturnType<typeof setTimeout> | undefined;
watch(
  () => [JSON.stringify(sweep), job.value],
  () => {
    clearTimeout(soon);
    // edits of lists come in bursts
    soon = setTimeout(() => void start(), 150);
  },
  { immediate: true },
);
onBeforeUnmount(() => {
  clearTimeout(soon);
  run += 1;
});

const SHOWN = 200;
const shown = computed(() => variants.value.slice(0, SHOWN));
const places = computed(() => new Map(shown.value.map((v, i) => [v, i])));
const done = computed(() => variants.value.filter((v) => v.outcome));
const builds = (v: Variant) => v.choice.build_up?.name ?? floors.buildUp(v.choice.floor.build_up_id)?.name ?? "";
/** The spacing, and that of the perimeter zone where it is another. */
const spacing = ({ choice: { floor } }: Variant) => s("size", floor.spacing_core_m) + (floor.spacing_edge_m < floor.spacing_core_m ? `, perimeter ${s("size", floor.spacing_edge_m)}` : "");
const words = (v: Variant) => `${spacing(v)}, ${tubeName(v.choice.floor.tube_id)}, ${coveringName(v.choice.floor.covering_id)}`;
const broken = (v: Variant) => (v.outcome?.breaches ?? []).map((b) => BREACHES[b]).join("; ");

/** Columns that tell the variants apart; what all have in common needs none. */
const differs = (get: (v: Variant) => unknown) => new Set(variants.value.map((v) => JSON.stringify(get(v)))).size > 1;
const columns = computed<Column<Variant>[]>(() => [
  { key: "take", head: "" },
  { key: "spacing", head: "Spacing", value: (v) => v.choice.floor.spacing_core_m, num: true, text: spacing },
  ...(differs((v) => v.choice.floor.tube_id) ? [{ key: "tube", head: "Tube", value: (v: Variant) => tubeName(v.choice.floor.tube_id) }] : []),
  ...(differs((v) => v.choice.floor.covering_id) ? [{ key: "covering", head: "Covering", value: (v: Variant) => coveringName(v.choice.floor.covering_id) }] : []),
  ...(differs((v) => [v.choice.floor.build_up_id, v.choice.build_up?.name]) ? [{ key: "build", head: "Build-up", value: (v: Variant) => builds(v) + (v.choice.build_up ? "" : isPlate(v.choice.plate)) }] : []),
  ...(differs((v) => v.choice.floor.insulation_m2k_w)
    ? [{ key: "insulation", head: "Insulation", num: true, value: (v: Variant) => v.choice.floor.insulation_m2k_w ?? 0, text: (v: Variant) => (v.choice.floor.insulation_m2k_w == null ? "as built" : s("resistance", v.choice.floor.insulation_m2k_w)) }]
    : []),
  { key: "water", head: "Water", value: (v) => v.outcome?.supply_c, quantity: "temperature" },
  ...(variants.value.some((v) => (v.outcome?.short_w ?? 0) > 0) ? [{ key: "short", head: "Short by", value: (v: Variant) => v.outcome?.short_w || undefined, quantity: "heat" as const }] : []),
  { key: "surface", head: "Surface", value: (v) => v.outcome?.surface_mean_c, quantity: "temperature" },
  { key: "ripple", head: "Ripple", value: (v) => v.outcome?.striping_k, quantity: "difference" },
  { key: "down", choice: "extra", head: "Down", value: (v) => v.outcome?.down_w_m2, quantity: "flux" },
  { key: "laid", head: "Tube laid", value: (v) => v.outcome?.tube_m, quantity: "tube" },
  { key: "height", choice: "extra", head: "Height", value: (v) => v.outcome?.height_m, quantity: "size" },
  { key: "delay", choice: "extra", head: "Delay", value: (v) => v.outcome?.time_constant_s, quantity: "time" },
]);

const extent = (get: (v: Variant) => number) => {
  const all = done.value.map(get);
  const [low, high] = [Math.min(...all), Math.max(...all)];
  const room = Math.max(0.08 * (high - low), 0.5);
  return [low - room, high + room] as [number, number];
};
const xs = computed(() => (done.value.length ? extent((v) => v.outcome!.supply_c) : ([20, 60] as const)));
const mostRipple = computed(() => (done.value.length ? extent((v) => v.outcome!.striping_k)[1] : 5));
const limit = computed(() => job.value?.rules.striping_limit_k ?? Infinity);
const charted: Column<Variant>[] = [
  { key: "what", head: "Floor", text: (v) => words(v) },
  { key: "supply", head: "Supply it needs", value: (v) => v.outcome!.supply_c, quantity: "temperature" },
  { key: "ripple", head: "Surface ripple", value: (v) => v.outcome!.striping_k, quantity: "difference" },
  { key: "meets", head: "Meets the load", text: (v) => (v.outcome!.carries ? "yes" : "no") },
];
const setPrefer = (to: keyof typeof PREFERENCES) => store.edit("change what is preferred", (j) => (j.rules.prefer = to));
const hover = ref<Variant | null>(null);
const isPlate = (v: PlateChoice) => (v === "as_built" ? "" : `, ${PLATES[v]}`);
</script>

<template>
  <div class="compare">
    <aside class="axes" tabindex="0" role="region" aria-label="What is varied">
      <p class="soft">Vary what you like; what is left alone stays as the room has it.</p>
      <details v-for="a in axes" :key="a.key" :open="a.key === 'spacings_m'">
        <summary>{{ dialect(a.name, units) }} <b v-if="sweep[a.key].length">{{ sweep[a.key].length }}</b></summary>
        <CheckField v-for="o in a.options" :key="o.value" :model-value="has(a.key, o.value)" :label="o.name" @update:model-value="toggle(a.key, o.value)">{{ o.name }}</CheckField>
      </details>
      <label v-for="l in LISTS" :key="l.key" class="typed">{{ l.name }} <ElInput v-model="texts[l.key]" size="small" :placeholder="l[units]" :aria-label="l.label" @change="type(l)" /></label>
      <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
      <label class="typed">First by <ChoiceField :model-value="job?.rules.prefer ?? 'cool_water'" :options="PREFERENCES" label="What comes first" @update:model-value="setPrefer" /></label>
    </aside>
    <div class="results">
      <div class="head">
        <p role="status" class="progress">
          <template v-if="trouble">Not compared: {{ trouble }}</template>
          <template v-else>{{ variants.length }} of {{ total }} {{ total === 1 ? "variant" : "variants" }}<template v-if="variants.length > SHOWN">, the best {{ SHOWN }} listed</template></template>
          <progress v-if="busy && total > BATCH" :max="total" :value="variants.length" aria-label="Variants solved"></progress>
          <ElButton v-if="busy && total > BATCH" size="small" @click="stop">Stop</ElButton>
        </p>
        <ChartFrame
          v-if="done.length > 1" class="chart-of" question="What does cooler water cost in surface ripple?" :label="`Surface ripple over supply temperature of ${done.length} variants`" :columns="charted" :rows="done"
          :x="{ quantity: 'temperature', from: xs[0], to: xs[1], name: 'supply it needs (✕ does not meet the load)' }" :y="{ quantity: 'difference', from: 0, to: mostRipple, name: 'surface ripple' }" @mouseleave="hover = null">
          <template #default="{ x, y, plot }">
            <line v-if="limit < mostRipple" :x1="plot.left" :x2="plot.right" :y1="y(limit)" :y2="y(limit)" class="limit" />
            <template v-for="(v, i) in done" :key="i">
              <circle v-if="v.outcome!.carries" :cx="x(v.outcome!.supply_c)" :cy="y(v.outcome!.striping_k)" :r="v.now || v === hover ? 6 : 4" :class="{ now: v.now, best: v === variants[0] }" class="dot" @mouseenter="hover = v"><title>{{ words(v) }}</title></circle>
              <path v-else :d="`M${x(v.outcome!.supply_c) - 4} ${y(v.outcome!.striping_k) - 4}l8 8m0 -8l-8 8`" class="cross" @mouseenter="hover = v"><title>{{ words(v) }}: {{ broken(v) }}</title></path>
            </template>
          </template>
        </ChartFrame>
      </div>
      <DataTable
        :id="(v) => String(places.get(v))" inline name="variants" empty="Nothing to compare yet." :columns="columns" :rows="shown" :chosen="(v) => v.now || v === hover"
        :blank="(v) => (v.outcome ? undefined : `${words(v)}, ${builds(v)}: ${v.refused}`)">
        <template #cell-take="{ row }">
          <span v-if="row.now" class="here">current</span>
          <ElButton v-else-if="row.outcome" size="small" :aria-label="`Take ${words(row)}`" @click="floors.takeVariant(roomId, row)">Take</ElButton>
        </template>
        <template #cell-spacing="{ row }"><span :class="row.outcome?.carries ? 'yes' : 'no'" :title="broken(row) || 'meets the load, breaks no rule'">{{ row.outcome?.carries ? (row.outcome.breaches.length ? "!" : "✓") : "✗" }}</span> {{ spacing(row) }}</template>
      </DataTable>
    </div>
  </div>
</template>

<style scoped>
.compare { flex: 1; min-height: 0; display: grid; grid-template-columns: 190px minmax(0, 1fr); }
.axes { overflow-y: auto; padding: 4px 10px; border-right: 1px solid var(--faint); font-size: 13px; }
.axes details { border-bottom: 1px solid var(--faint); padding: 3px 0; }
.axes summary { cursor: pointer; font-weight: 600; }
.axes summary b { color: var(--ember); }
.axes label { display: block; }
.axes .typed { margin-top: 4px; display: flex; }
.axes .typed > :deep(.el-input), .axes .typed > :deep(.choice) { flex: 1; width: auto; min-width: 0; }
.results { display: flex; flex-direction: column; min-height: 0; min-width: 0; }
.head { display: flex; gap: 16px; align-items: flex-start; padding: 4px 10px; }
.progress { margin: 2px 0; min-width: 150px; font-size: 13px; }
.progress progress { display: block; width: 130px; margin: 4px 0; }
.chart-of { flex: 1; max-width: 430px; }
.dot { fill: var(--soft); }
.dot.best { fill: var(--sound); }
.dot.now { fill: var(--ember); }
.limit { stroke: var(--ember); stroke-dasharray: 5 3; }
.cross { stroke: var(--off); fill: none; stroke-width: 1.3; }
.here { color: var(--soft); }
.yes { color: var(--sound); }
.no { color: var(--ember); font-weight: 700; }
.soft { color: var(--soft); }
.wrong { color: var(--ember); margin: 2px 0; }
@media (max-width: 900px) { .compare { grid-template-columns: minmax(0, 1fr); overflow: auto; } .results { min-height: 400px; } }
</style>
