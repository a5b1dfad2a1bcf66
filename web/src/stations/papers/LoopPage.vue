<script setup lang="ts">
/** One loop alone on a page, as large as it goes, with the running length at every turn: what the crew lays by. */
import { computed, ref } from "vue";
import { useRoute, useRouter } from "vue-router";
import type { Point } from "../../api/client";
import PlanRooms from "../../sheet/PlanRooms.vue";
import PlanLoops from "../../sheet/PlanLoops.vue";
import { store } from "../../job/store";
import { figure, show, symbol, whole } from "../../units";
import { cautionsOf } from "../materials/cautions";
import { useMaterials } from "../materials/counted";
import PaperFrame from "./PaperFrame.vue";
import { scalesFor, scaleText } from "./scale";
import ChoiceField from "../../kit/ChoiceField.vue";
import CheckField from "../../kit/CheckField.vue";
import { tubes } from "../../products/products";

const { state, units, job, design } = store;
const route = useRoute();
const router = useRouter();
/** A loop that is taller than wide gets a page that is. */
const tall = computed(() => box.value.y1 - box.value.y0 > 0.9 * (box.value.x1 - box.value.x0));
const LYING = { a4: { name: "A4", width: 297, height: 210, css: "A4 landscape" }, letter: { name: "US letter", width: 279.4, height: 215.9, css: "letter landscape" }, a3: { name: "A3", width: 420, height: 297, css: "A3 landscape" } };
const MARGIN = 10;
const HEAD = 22;
const paper = ref<keyof typeof LYING>(units.value === "us" ? "letter" : "a4");
const every = ref(true);

const loop = computed(() => design.value?.loops.find((l) => l.tag === route.query.loop) ?? design.value?.loops[0]);
const choose = (tag: string) => void router.replace({ query: { ...route.query, loop: tag } });
const tube = computed(() => tubes().find((t) => t.id === loop.value?.tube_id));
const rooms = computed(() => {
  const of = job.value?.rooms.find((r) => r.id === loop.value?.room_ids[0]);
  return (job.value?.rooms ?? []).filter((r) => r.level_id === of?.level_id);
});
const sheetJob = computed(() => job.value && { ...job.value, rooms: rooms.value, marks: [], manifolds: [] });
const alone = computed(() => {
  const d = design.value;
  const on = new Set(rooms.value.map((r) => r.id));
  return d && loop.value && { ...d, loops: [loop.value], walls: d.walls.filter((w) => on.has(w.room_id)), outlines: d.outlines.filter((o) => on.has(o.room_id)) };
});
/** What the loop covers, and a little round it. */
const box = computed(() => {
  const path = (loop.value?.path ?? [[0, 0], [1, 1]]) as Point[];
  const xs = path.map((p) => p[0]);
  const ys = path.map((p) => p[1]);
  return { x0: Math.min(...xs) - 0.5, x1: Math.max(...xs) + 0.5, y0: Math.min(...ys) - 0.5, y1: Math.max(...ys) + 0.5 };
});
const pages = computed(() => Object.fromEntries(Object.entries(LYING).map(([k, p]) => [k, tall.value ? { ...p, width: p.height, height: p.width, css: p.css.replace("landscape", "portrait") } : p])) as typeof LYING);
const page = computed(() => pages.value[paper.value]);
const space = computed(() => ({ width: page.value.width - 2 * MARGIN, height: page.value.height - 2 * MARGIN - HEAD - 8 }));
const scales = computed(() => scalesFor(units.value));
const size = (scale: number) => ({ width: ((box.value.x1 - box.value.x0) * 1000) / scale, height: ((box.value.y1 - box.value.y0) * 1000) / scale });
const scale = computed(() => scales.value.find((s) => size(s).width <= space.value.width && size(s).height <= space.value.height) ?? scales.value.at(-1)!);
/** Millimetres on paper in metres of the plan. */
const mm = computed(() => scale.value / 1000);
const run = computed(() => (units.value === "us" ? "length" : "tube") as "length" | "tube");
const along = (m: number) => figure(run.value, m, units.value);
/** Running lengths stand off their turn, on the outside of the bend, and not on each other. */
const marks = computed(() => {
  const l = loop.value;
  if (!l) return [];
  const path = l.path as Point[];
  const out: { at: Point; text: Point; label: string; n: number }[] = [];
  const turns = l.turns.slice(0, -1);
  const line = path.slice(1).map((b, i) => [path[i]!, b] as const);
  const clear = (p: Point) => {
    let least = 3 * mm.value;
    for (const [a, b] of line) least = Math.min(least, toSegment(p, a, b));
    for (const o of out) least = Math.min(least, Math.abs(o.text[0] - p[0]) / 2.4 + Math.abs(o.text[1] - p[1]));
    return least;
  };
  turns.forEach((t, n) => {
    const at = t.at as Point;
    let best: Point = at;
    let most = -1;
    for (const r of [2.6, 4, 5.4]) for (let k = 0; k < 12; k++) {
      const a = (k * Math.PI) / 6;
      const p: Point = [at[0] + Math.cos(a) * r * mm.value, at[1] + Math.sin(a) * r * 0.8 * mm.value];
      const score = clear(p) - 0.12 * r * mm.value;
      if (score > most) [best, most] = [p, score];
    }
    out.push({ at, text: best, label: along(t.along_m), n: n + 1 });
  });
  return out;
});
function toSegment(p: Point, a: Point, b: Point): number {
  const [dx, dy] = [b[0] - a[0], b[1] - a[1]];
  const t = Math.min(1, Math.max(0, ((p[0] - a[0]) * dx + (p[1] - a[1]) * dy) / (dx * dx + dy * dy || 1)));
  return Math.hypot(p[0] - a[0] - dx * t, p[1] - a[1] - dy * t);
}
const ends = computed(() => {
  const path = (loop.value?.path ?? []) as Point[];
  return path.length ? [{ at: path[0]!, text: "supply" }, { at: path.at(-1)!, text: "return" }] : [];
});
const rows = computed(() => {
  const steps = loop.value?.steps ?? [];
  return steps.map((t, i) => ({ n: i + 1, along: t.along_m, from: t.length_m, heading: t.heading_deg, passes: t.passes, turn: t.turn_deg, end: i === steps.length - 1 }));
});
/** Three columns of rows, read downward. */
const columns = computed(() => {
  const n = Math.ceil(rows.value.length / 3);
  return [0, 1, 2].map((k) => rows.value.slice(k * n, (k + 1) * n));
});
/** What is counted along a run: the lattice of the loop's rooms. */
const counted = computed(() => {
  const kinds = new Set(loop.value?.room_ids.map((id) => job.value?.rooms.find((r) => r.id === id)?.floor?.lattice?.kind));
  return kinds.has("joists") ? "Joists" : kinds.has("squares") ? "Squares" : null;
});
const ARROWS = ["↑", "↗", "→", "↘", "↓", "↙", "←", "↖"];
const NAMES = ["up the sheet", "up and right", "right", "down and right", "down the sheet", "down and left", "left", "up and left"];
const eighth = (deg: number) => Math.round(deg / 45) % 8;
const way = (deg: number) => (Math.abs(deg) < 20 ? "shift" : `${Math.round(Math.abs(deg))}° ${deg > 0 ? "left" : "right"}`);
/** The coil from which it is cut, and the mark that is read at the supply port: half of its tails lies before. */
const { answer: bought, old: boughtOld } = useMaterials();
const coil = computed(() => {
  const all = (bought.value?.coils ?? []).flatMap((t) => t.coils);
  const of = all.find((c) => c.cuts.some((cut) => cut.loop_id === loop.value?.id));
  const cut = of?.cuts.find((c) => c.loop_id === loop.value?.id);
  return of && cut && { name: of.coil, begins: cut.from_m, port: cut.port_m };
});
const care = computed(() => (bought.value && loop.value ? cautionsOf(bought.value, loop.value.id, 0, (m) => show(run.value, m, units.value), (m) => show("thickness", m, units.value)) : []));
/** The others on its level, faint. */
const others = computed(() => {
  const on = new Set(rooms.value.map((r) => r.id));
  return design.value && { ...design.value, loops: design.value.loops.filter((l) => l !== loop.value && l.room_ids.some((id) => on.has(id))), rooms: [] };
});
const names = computed(() => loop.value?.room_ids.map((id) => job.value?.rooms.find((r) => r.id === id)?.name).join(", "));
const manifold = computed(() => job.value?.manifolds.find((m) => m.id === loop.value?.manifold_id));
</script>

<template>
  <PaperFrame v-if="job && design" v-model:paper="(paper as string)" :busy="boughtOld" label="Papers" :pages="pages" :margin="MARGIN" print="Print this loop">
    <template #bar>
      <slot />
      <label>Loop <ChoiceField :model-value="loop?.tag" :options="design.loops.map((l) => ({ value: l.tag, text: l.tag }))" label="Loop to show" @update:model-value="choose" /></label>
    </template>
    <template #more>
      <CheckField v-model="every" label="lengths at the turns">lengths at the turns</CheckField>
    </template>
    <template #files>
      <a :href="`/api/jobs/${state.id}/loop-points.csv`" download>Points of all loops as CSV</a>
      <a :href="`/api/jobs/${state.id}/loops.dxf`" download>Loops as DXF</a>
      <a :href="`/api/jobs/${state.id}/loops.geojson`" download>as GeoJSON</a>
    </template>
    <template v-if="loop && alone && sheetJob">
      <header>
        <div class="title"><h1>Loop {{ loop.tag }}</h1><p>{{ job.name }} · {{ names }}</p></div>
        <dl>
          <dt>Tube</dt><dd>{{ tube?.name }}</dd>
          <dt>Cut</dt><dd>{{ show("tube", loop.length_m, units) }} + tails</dd>
          <dt>Port</dt><dd>{{ manifold?.letter }}{{ loop.port }}, from the left</dd>
          <template v-if="loop.riser_m"><dt>Through the floor</dt><dd>{{ show("tube", loop.riser_m / 2, units) }} each way</dd></template>
          <template v-if="coil"><dt>Coil</dt><dd>{{ coil.name }}, from mark {{ show("tube", coil.begins, units) }}</dd></template>
          <dt>Spacing</dt><dd>{{ show("size", loop.spacing_m, units) }}</dd>
          <dt>Scale</dt><dd>{{ scaleText(scale, units) }}</dd>
        </dl>
      </header>
      <svg class="plan" role="img" :aria-label="`Loop ${loop.tag} at 1:${scale}`" :style="{ width: `${size(scale).width}mm`, height: `${size(scale).height}mm` }" :viewBox="`${box.x0} ${-box.y1} ${box.x1 - box.x0} ${box.y1 - box.y0}`">
        <g transform="scale(1 -1)">
          <PlanRooms :job="sheetJob" :design="alone" :selection="null" />
          <PlanLoops v-if="others" :design="others" :selection="null" faded class="others" />
          <PlanLoops :design="alone" :selection="null" />
        </g>
        <g v-if="every" class="turns" :font-size="2.1 * mm">
          <g v-for="m in marks" :key="m.n">
            <line :x1="m.at[0]" :y1="-m.at[1]" :x2="m.text[0]" :y2="-m.text[1]" :stroke-width="0.12 * mm" />
            <circle :cx="m.at[0]" :cy="-m.at[1]" :r="0.45 * mm" />
            <text :x="m.text[0]" :y="-m.text[1] + 0.7 * mm" :stroke-width="0.7 * mm">{{ m.label }}</text>
          </g>
        </g>
        <g class="ends" :font-size="3 * mm">
          <g v-for="(e, i) in ends" :key="i"><circle :cx="e.at[0]" :cy="-e.at[1]" :r="0.9 * mm" :class="{ hot: i === 0 }" /><text :x="e.at[0] + (i ? 1.8 : -1.8) * mm" :y="-e.at[1] + 3.6 * mm" :text-anchor="i ? 'start' : 'end'" :stroke-width="0.9 * mm">{{ e.text }}</text></g>
        </g>
      </svg>
      <p class="note">Figures at the turns: {{ units === "us" ? "feet" : "metres" }} of tube from the supply port, as the marks on the tube count, less the figure at the port. Broken edge: the way back. No splice.</p>
      <p v-if="care.length" class="note caution">Caution: lengths from the port: {{ whole(care.join("; ")) }}.</p>
      <section class="tables">
        <h2>Loop {{ loop.tag }}, turn by turn</h2>
        <div class="columns">
          <table v-for="(c, i) in columns" :key="i" class="grid-table">
            <thead><tr><th class="num">Turn</th><th>Heading</th><th class="num">Run</th><th v-if="counted" class="num">{{ counted }}</th><th class="num">From the port</th><th v-if="coil" class="num">Mark</th><th>Then</th></tr></thead>
            <tbody><tr v-for="r in c" :key="r.n"><td class="num">{{ r.end ? "" : r.n }}</td><td><span aria-hidden="true">{{ ARROWS[eighth(r.heading)] }}</span><span class="visually-hidden">{{ NAMES[eighth(r.heading)] }}</span></td><td class="num">{{ along(r.from) }}</td><td v-if="counted" class="num">{{ r.passes ?? "" }}</td><td class="num"><b>{{ along(r.along) }}</b> {{ symbol(run, units) }}</td><td v-if="coil" class="num">{{ along(coil.port + r.along) }}</td><td>{{ r.end ? "return port" : way(r.turn) }}</td></tr></tbody>
          </table>
        </div>
      </section>
    </template>
    <p v-else>No loops yet: hang a manifold and draw doorways.</p>
  </PaperFrame>
</template>

<style scoped>
header { display: flex; justify-content: space-between; gap: 8mm; border-bottom: 1px solid var(--ink); margin-bottom: 3mm; min-height: 16mm; }
h1 { font-size: 18pt; }
h2 { font-size: 11pt; margin: 0 0 2mm; }
header p { margin: 0; color: var(--soft); }
header dl { display: grid; grid-auto-flow: column; grid-template-rows: auto auto; gap: 0 5mm; align-content: start; font-size: 8.5pt; margin: 0; text-align: right; }
dt { color: var(--soft); }
dd { margin: 0; font-weight: 650; }
.plan { display: block; }
.turns text { text-anchor: middle; fill: var(--ink); stroke: #fff; paint-order: stroke; stroke-linejoin: round; }
.turns line { stroke: #8b7f70; }
.turns circle { fill: var(--ink); }
.ends circle { fill: #fff; stroke: var(--ink); stroke-width: 0.02; }
.ends circle.hot { fill: var(--ember); }
.ends text { font-weight: 650; fill: var(--ink); stroke: #fff; paint-order: stroke; }
.others { opacity: 0.25; }
.caution { color: var(--ink); font-weight: 650; }
.note { margin: 2mm 0 0; color: var(--soft); font-size: 8pt; }
.tables { break-before: page; }
.columns { display: grid; grid-template-columns: repeat(3, 1fr); gap: 5mm; align-items: start; }
.grid-table { font-size: 8.5pt; }
.grid-table td { height: auto; padding: 0.4mm 1.5mm; }
.grid-table th { position: static; background: none; white-space: normal; padding: 0.4mm 1.5mm; }
:deep(.loops .tube) { stroke-width: 2; print-color-adjust: exact; }
:deep(.loops .broken) { stroke-width: 0.7; stroke: #fff; }
:deep(.rooms *) { print-color-adjust: exact; }
</style>
