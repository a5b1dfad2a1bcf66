<script setup lang="ts">
/** Two layouts of the job side by side: the schools of the trade on this very floor. */
import { computed, onBeforeUnmount, reactive, shallowRef } from "vue";
import { watchDebounced } from "@vueuse/core";
import { answer, api, leave, windowOf, type Design } from "../../api/client";
import { PATTERNS } from "../../words";
import { kept } from "../../job/loops";
import { varied, type Variant } from "../../job/variants";
import { store } from "../../job/store";
import { useStationView } from "../view";
import PlanLoops from "../../sheet/PlanLoops.vue";
import PlanRooms from "../../sheet/PlanRooms.vue";
import { parse, show, type Quantity } from "../../units";
import ChoiceField from "../../kit/ChoiceField.vue";
import { tubes as allTubes } from "../../products/products";

const { show: showView } = useStationView();
const { job, levelJob, units } = store;
const tubes = computed(() => allTubes().map((t) => t.id));

interface Side {
  name: string;
  variant: Variant;
  limit: string;
  wrong: string;
}
const sides = reactive<[Side, Side]>([
  { name: "First layout", variant: {}, limit: "", wrong: "" },
  { name: "Second layout", variant: { pattern: "counterflow" }, limit: "", wrong: "" },
]);
const designs = shallowRef<[Design | null, Design | null]>([null, null]);
const busy = reactive([false, false]);
const trouble = reactive(["", ""]);
const runs = [0, 0];
async function lay(k: 0 | 1) {
  if (!job.value) return;
  const mine = ++runs[k]!;
  busy[k] = true;
  try {
    const got = await answer(api.POST("/api/design", { body: varied(job.value, sides[k].variant, tubes.value) as never, headers: { "X-Fuoco-Window": windowOf(k) } }));
    if (mine !== runs[k]) return;
    const next: [Design | null, Design | null] = [...designs.value];
    next[k] = got;
    designs.value = next;
    trouble[k] = "";
  } catch (e) {
    if (mine === runs[k]) trouble[k] = e instanceof Error ? e.message : String(e);
  } finally {
    if (mine === runs[k]) busy[k] = false;
  }
}
for (const k of [0, 1] as const) {
  // a drag or a typed figure changes the job many times: the layouts follow when it rests
  watchDebounced([() => job.value, () => ({ ...sides[k].variant })], () => void lay(k), { debounce: 250, deep: true });
  void lay(k);
}
onBeforeUnmount(() => [0, 1].forEach((k) => leave(windowOf(k))));

function typeLimit(side: Side) {
  const text = side.limit.trim();
  const m = text === "" ? undefined : parse("tube", text, units.value);
  const bad = m === null || (m !== undefined && (m < 10 || m > 300));
  side.wrong = bad ? `between ${show("tube", 10, units.value)} and ${show("tube", 300, units.value)}` : "";
  if (bad) return;
  side.variant.limit_m = m ?? undefined;
  if (m) side.limit = show("tube", m, units.value);
}

const onLevel = computed(() => new Set((levelJob.value?.rooms ?? []).map((r) => r.id)));
const shown = (k: 0 | 1) => {
  const d = designs.value[k];
  return d && { ...d, loops: d.loops.filter((l) => l.room_ids.some((id) => onLevel.value.has(id))), manifolds: d.manifolds.filter((m) => m.level_id === store.level.value?.id), walls: d.walls.filter((w) => onLevel.value.has(w.room_id)), outlines: d.outlines.filter((o) => onLevel.value.has(o.room_id)) };
};
const plans = computed(() => [shown(0), shown(1)] as const);
const box = computed(() => {
  const points = (levelJob.value?.rooms ?? []).flatMap((r) => r.outline);
  if (!points.length) return "0 0 1 1";
  const xs = points.map((p) => p[0]);
  const ys = points.map((p) => p[1]);
  const [x0, x1, y0, y1] = [Math.min(...xs) - 0.3, Math.max(...xs) + 0.3, Math.min(...ys) - 0.3, Math.max(...ys) + 0.3];
  return `${x0} ${-y1} ${x1 - x0} ${y1 - y0}`;
});

/** The figures of both side by side; the core says which way each is better. */
const rows = computed(() => {
  const [one, two] = designs.value;
  return (one ?? two)?.layout.map((f, i) => ({ ...f, values: [one?.layout[i]?.value, two?.layout[i]?.value] })) ?? [];
});
type Figure = (typeof rows.value)[number];
const told = (row: Figure, k: 0 | 1) => (designs.value[k] ? show(row.quantity as Quantity, row.values[k], units.value) : "…");
function better(row: Figure, k: 0 | 1): boolean {
  const [mine, other] = [row.values[k], row.values[1 - k]];
  if (typeof mine !== "number" || typeof other !== "number" || row.better === "neither") return false;
  // what reads the same is the same
  return told(row, 0) !== told(row, 1) && mine < other === (row.better === "less");
}
const same = (side: Side) => Object.values(side.variant).every((v) => v === undefined);
function take(k: 0 | 1) {
  const v = sides[k].variant;
  store.edit("take layout", (draft) => Object.assign(draft, varied(draft, v, tubes.value)));
  showView();
}
</script>

<template>
  <section class="compare" aria-label="Layouts compared" tabindex="0">
    <header>
      <h2>Which layout suits this floor?</h2>
      <span v-if="kept(job!).length" class="quiet">Locked loops stay where they lie in both.</span>
      <ElButton size="small" @click="showView()">Back to the sheet</ElButton>
    </header>
    <div class="sides">
      <div v-for="k in [0, 1] as const" :key="k" class="side" role="group" :aria-label="sides[k].name">
        <div class="choices">
          <label>Pattern <ChoiceField :model-value="sides[k].variant.pattern" :options="PATTERNS" :label="`Pattern, ${sides[k].name}`" empty="as set" @update:model-value="sides[k].variant.pattern = ($event) as Variant['pattern']" /></label>
          <label>Spacing <ChoiceField :model-value="sides[k].variant.spacing_m" :options="(job?.rules.spacings_m ?? []).map((s) => ({ value: s, text: show('size', s, units) }))" :label="`Spacing, ${sides[k].name}`" empty="as set" @update:model-value="sides[k].variant.spacing_m = $event" /></label>
          <label>Longest loop <ElInput v-model="sides[k].limit" size="small" class="short" placeholder="as set" :aria-label="`Longest loop, ${sides[k].name}`" :aria-invalid="sides[k].wrong !== ''" @change="typeLimit(sides[k])" /></label>
          <label>Lengths <ChoiceField :model-value="sides[k].variant.equal === undefined ? undefined : sides[k].variant.equal ? 'equal' : 'free'" :options="{ equal: 'equal', free: 'free, by valves' }" :label="`Lengths, ${sides[k].name}`" empty="as set" @update:model-value="sides[k].variant.equal = $event === undefined ? undefined : $event === 'equal'" /></label>
          <ElButton size="small" :disabled="same(sides[k]) || !designs[k]" @click="take(k)">Take this one</ElButton>
          <span v-if="sides[k].wrong" class="wrong" role="alert">{{ sides[k].wrong }}</span>
        </div>
        <p v-if="trouble[k]" class="wrong" role="alert">{{ trouble[k] }}</p>
        <svg class="plan" :class="{ busy: busy[k] }" :viewBox="box" role="img" :aria-label="`Plan, ${sides[k].name}`">
          <g v-if="plans[k] && levelJob" transform="scale(1 -1)">
            <PlanRooms :job="levelJob" :design="plans[k]" :selection="null" />
            <PlanLoops :design="plans[k]!" :selection="null" />
          </g>
        </svg>
      </div>
    </div>
    <table class="grid-table">
      <thead><tr><th>Whole job</th><th class="num">{{ sides[0].name }}</th><th class="num">{{ sides[1].name }}</th></tr></thead>
      <tbody>
        <tr v-for="row in rows" :key="row.name">
          <td>{{ row.name }}</td>
          <td v-for="k in [0, 1] as const" :key="k" class="num" :class="{ best: better(row, k) }">{{ told(row, k) }}<span v-if="better(row, k)" class="visually-hidden"> (better)</span></td>
        </tr>
      </tbody>
    </table>
  </section>
</template>

<style scoped>
.compare { overflow: auto; min-height: 0; padding: 8px 12px; background: var(--sheet); }
header { display: flex; gap: 16px; align-items: baseline; }
header .do { margin-left: auto; }
.sides { display: grid; grid-template-columns: 1fr 1fr; gap: 12px; margin: 8px 0; }
.choices { display: flex; flex-wrap: wrap; gap: 4px 10px; align-items: center; font-size: 13px; min-height: 62px; }
.short.el-input { width: 80px; }
.plan { width: 100%; height: 250px; background: var(--paper); border: 1px solid var(--line); }
.plan.busy { opacity: 0.5; }
.quiet { color: var(--soft); }
.wrong { color: var(--ember); font-weight: 600; }
.compare :deep(.grid-table tr > *) { background: none; }
.best { font-weight: 650; color: var(--sound); }
:deep(.loops .tube) { stroke-width: 1.3; }
:deep(.loops .broken) { stroke-width: 0.5; }
@media (max-width: 900px) { .sides { grid-template-columns: 1fr; } }
</style>
