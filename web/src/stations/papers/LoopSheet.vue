<script setup lang="ts">
/** The loop sheet: a page to print, the plan true to a stated scale, tags, table of loops, cautions. */
import { computed, ref } from "vue";
import type { LoopDesign, Point } from "../../api/client";
import PlanLoops from "../../sheet/PlanLoops.vue";
import PlanRooms from "../../sheet/PlanRooms.vue";
import { tagPlaces, waterColour, waterRange } from "../../sheet/water";
import { fieldRows } from "../../job/fields";
import { store } from "../../job/store";
import { dialect, show } from "../../units";
import PaperFrame from "./PaperFrame.vue";
import { scalesFor, scaleText as scaleWords } from "./scale";
import ChoiceField from "../../kit/ChoiceField.vue";
import { labelPlace } from "../../sheet/places";
import { valveText } from "../water/valve";
import { tubeName } from "../../products/products";

const { state, where, units, level } = store;
// one sheet a level: its rooms and its loops
const { levelJob: sheetJob, levelDesign: design } = store;
const job = sheetJob;
const PAGES = { a4: { name: "A4", width: 297, height: 210, css: "A4 landscape" }, letter: { name: "US letter", width: 279.4, height: 215.9, css: "letter landscape" } };
const MARGIN = 10;
const HEAD = 17;
const paper = ref<"a4" | "letter">(units.value === "us" ? "letter" : "a4");
const scales = computed(() => scalesFor(units.value).filter((s) => s >= 20));
const wanted = ref<number | null>(null);

const box = computed(() => {
  const points = (sheetJob.value?.rooms ?? []).flatMap((r) => r.outline as Point[]);
  const xs = points.map((p) => p[0]);
  const ys = points.map((p) => p[1]);
  if (!points.length) return { x0: 0, x1: 1, y0: 0, y1: 1 };
  return { x0: Math.min(...xs) - 0.4, x1: Math.max(...xs) + 0.4, y0: Math.min(...ys) - 0.4, y1: Math.max(...ys) + 0.4 };
});
const page = computed(() => PAGES[paper.value]);
const room = computed(() => ({ width: page.value.width - 2 * MARGIN, height: page.value.height - 2 * MARGIN - HEAD - 8 }));
const fits = (scale: number) => ((box.value.x1 - box.value.x0) * 1000) / scale <= room.value.width && ((box.value.y1 - box.value.y0) * 1000) / scale <= room.value.height;
const scale = computed(() => (wanted.value && fits(wanted.value) ? wanted.value : (scales.value.find(fits) ?? scales.value.at(-1)!)));
const size = computed(() => ({ width: ((box.value.x1 - box.value.x0) * 1000) / scale.value, height: ((box.value.y1 - box.value.y0) * 1000) / scale.value }));
const scaleText = (s: number) => scaleWords(s, units.value);
/** A bar of a round length: a ruler laid on the print must agree. */
const bar = computed(() => (units.value === "us" ? { mm: (3.048 * 1000) / scale.value, text: "10 ft" } : { mm: 2000 / scale.value, text: "2 m" }));

const today = new Date().toLocaleDateString(undefined, { dateStyle: "medium" });
const north = computed(() => store.job.value?.site.north_deg ?? 0);
const rooms = computed(() => (job.value?.rooms ?? []).map((r) => ({ id: r.id, name: r.name, at: labelPlace(r.outline) })));
const range = computed(() => waterRange(design.value?.loops ?? []));
const tags = computed(() => tagPlaces(design.value?.loops ?? []));
const names = (ids: string[]) => ids.map((id) => job.value?.rooms.find((r) => r.id === id)?.name).join(", ");
const fields = computed(() => fieldRows(job.value, design.value));
const sum = (of: (l: LoopDesign) => number) => (design.value?.loops ?? []).reduce((all, l) => all + of(l), 0);
/** Of each circuit where there are several. */
const supply = computed(() => {
  const circuits = (design.value?.circuits ?? []).filter((c) => c.supply_c);
  return circuits.length > 1 ? circuits.map((c) => `${c.name} ${show("temperature", c.supply_c, units.value)}`).join(", ") : show("temperature", design.value?.totals.supply_c, units.value);
});
const errors = computed(() => (design.value?.findings ?? []).filter((f) => f.severity === "error"));
</script>

<template>
  <PaperFrame v-if="job && design" v-model:paper="paper" label="Papers" :pages="PAGES" :margin="MARGIN" print="Print the loop sheet">
    <template #bar>
      <slot />
      <label v-if="(job.levels.length ?? 0) > 1">Level <ChoiceField v-model="where.level" :options="job.levels.map((l) => ({ value: l.id, text: l.name }))" label="Level" /></label>
    </template>
    <template #more>
      <label>Scale <ChoiceField class="scale" :model-value="wanted ?? undefined" :options="scales.filter(fits).map((s) => ({ value: s, text: scaleText(s) }))" label="Scale" :empty="`as large as fits: ${scaleText(scale)}`" @update:model-value="wanted = $event ?? null" /></label>
    </template>
    <template #files>
      <a :href="`/api/jobs/${state.id}/loops.csv`" download>Loops as CSV</a>
      <a v-if="fields.length" :href="`/api/jobs/${state.id}/fields.csv`" download>Fields as CSV</a>
      <a :href="`/api/jobs/${state.id}/rooms.csv`" download>Rooms as CSV</a>
      <a :href="`/api/jobs/${state.id}/loop-points.csv`" download>Points as CSV</a>
      <a :href="`/api/jobs/${state.id}/plan.svg?level=${level?.id}&scale=${scale}`" download>Plan as SVG</a>
      <a :href="`/api/jobs/${state.id}/loops.dxf?level=${level?.id}`" download>DXF</a>
      <a :href="`/api/jobs/${state.id}/loops.geojson`" download>GeoJSON</a>
      <a :href="`/api/jobs/${state.id}/file`" download>Job file</a>
    </template>
      <header>
        <div><h1>{{ job.name }}</h1><p>{{ [job.customer, job.address || job.site.place, level?.name, "loop sheet", today].filter(Boolean).join(" · ") }}</p></div>
        <dl>
          <dt>Supply</dt><dd>{{ supply }}</dd>
          <dt>Return</dt><dd>{{ show("temperature", design.totals.return_c, units) }}</dd>
          <dt>Flow</dt><dd>{{ show("flow", design.totals.flow_l_min, units) }}</dd>
          <dt>Tube</dt><dd>{{ show("tube", design.totals.tube_m, units) }}</dd>
          <dt>Scale</dt><dd>{{ scaleText(scale) }}</dd>
        </dl>
      </header>
      <p v-if="errors.length" class="stop"><b>Do not lay from this sheet:</b> {{ errors.length === 1 ? "1 error." : `${errors.length} errors.` }} {{ errors[0]!.message }}</p>
      <svg
        class="plan" role="img" :aria-label="`Plan with loops at ${scaleText(scale)}`" :data-scale="scale"
        :style="{ width: `${size.width}mm`, height: `${size.height}mm` }"
        :viewBox="`${box.x0} ${-box.y1} ${box.x1 - box.x0} ${box.y1 - box.y0}`">
        <g transform="scale(1 -1)">
          <PlanRooms :job="job" :design="design" :selection="null" />
          <PlanLoops :design="design" :selection="null" />
        </g>
        <g class="paper-rooms" :font-size="0.0024 * scale" :stroke-width="0.0007 * scale">
          <text v-for="r in rooms" :key="r.id" :x="r.at[0]" :y="-r.at[1]">{{ r.name }}</text>
        </g>
        <g class="paper-tags" :font-size="0.0026 * scale">
          <g v-for="t in tags" :key="t.tag"><rect :x="t.at[0] - 0.0034 * scale" :y="-t.at[1] - 0.0019 * scale" :width="0.0068 * scale" :height="0.0038 * scale" :rx="0.0019 * scale" /><text :x="t.at[0]" :y="-t.at[1] + 0.0009 * scale">{{ t.tag }}</text></g>
        </g>
      </svg>
      <div class="key">
        <svg class="north" viewBox="-5 -8 10 16" role="img" :aria-label="`North is ${show('angle', north, units)} clockwise from the top`"><g :transform="`rotate(${north})`"><path d="M0-7L3 1H-3Z" /><text y="6">N</text></g></svg>
        <span class="rule" :style="{ width: `${bar.mm}mm` }">{{ bar.text }}</span>
        <span>water {{ show("temperature", range[0], units) }}</span>
        <i v-for="n in 12" :key="n" :style="{ background: waterColour((n - 0.5) / 12) }"></i>
        <span>{{ show("temperature", range[1], units) }}; the way back has a broken edge; arrows with the flow</span>
      </div>
      <section class="tables">
        <h2>Loops</h2>
        <table class="grid-table">
          <thead><tr><th>Loop</th><th>Rooms</th><th>Tube</th><th class="num">Length</th><th class="num">Leaders</th><th class="num">Spacing</th><th class="num">Flow</th><th class="num">Return</th><th class="num">{{ dialect("Pressure drop", units) }}</th><th class="num">Valve closes</th></tr></thead>
          <tbody>
            <tr v-for="l in design.loops" :key="l.id">
              <td><b>{{ l.tag }}</b></td><td>{{ names(l.room_ids) }}</td><td>{{ tubeName(l.tube_id) }}</td>
              <td class="num">{{ show("tube", l.length_m, units) }}</td><td class="num">{{ show("tube", l.leader_length_m, units) }}</td><td class="num">{{ show("size", l.spacing_m, units) }}</td>
              <td class="num">{{ show("flow", l.flow_l_min, units) }}</td><td class="num">{{ show("temperature", l.return_c, units) }}</td><td class="num">{{ show("head", l.head_loss_pa, units) }}</td>
              <td class="num">{{ valveText(l, units) }}</td>
            </tr>
            <tr v-for="f in fields" :key="f.id">
              <td><b>{{ f.tag }}</b></td><td>{{ f.name }}</td><td>{{ tubeName(f.tube) }}</td>
              <td class="num">{{ show("tube", f.of.tube_m, units) }}</td><td></td><td></td>
              <td class="num">{{ show("flow", f.of.flow_l_min, units) }}</td><td class="num">{{ show("temperature", f.of.return_c, units) }}</td><td class="num">{{ show("head", f.of.head_loss_pa, units) }}</td>
              <td class="num">{{ valveText(f.of, units) }}</td>
            </tr>
          </tbody>
          <tfoot v-if="design.loops.length"><tr><td colspan="3"><b>{{ job.levels.length > 1 ? `${level?.name} together` : "Together" }}</b></td><td class="num"><b>{{ show("tube", sum((l) => l.length_m) + fields.reduce((s, f) => s + f.of.tube_m, 0), units) }}</b></td><td class="num">{{ show("tube", sum((l) => l.leader_length_m), units) }}</td><td></td><td class="num"><b>{{ show("flow", sum((l) => l.flow_l_min) + fields.reduce((s, f) => s + f.of.flow_l_min, 0), units) }}</b></td><td colspan="3"></td></tr></tfoot>
        </table>
        <p v-if="!design.loops.length">No loops yet: hang a manifold and draw doorways.</p>
        <h2>Cautions</h2>
        <ul class="cautions">
          <li>Figures are design aids. Follow local code and the manufacturer's instructions.</li>
          <li>Ports count from the left as you face the manifold. Read the marks on the tube at the start, the corners and the end of each loop; no splice in the floor.</li>
          <li>Pressure-test before the pour, watch the gauge through it. Air under pressure stores energy: keep the pressure low and people away from the ends.</li>
          <li>Limit the supply temperature at the mixing valve so that nobody is scalded and no covering harmed. Heat screed and timber up slowly.</li>
          <li>Joists are drilled or notched only as the structural rules allow. Gas, flue and electric work belongs to licensed trades.</li>
          <li>Tubes are hidden under this floor: keep the sheet in the manifold cupboard and do not drill where it shows tube.</li>
        </ul>
      </section>
  </PaperFrame>
</template>

<style scoped>
header { display: flex; justify-content: space-between; gap: 8mm; border-bottom: 1px solid var(--ink); margin-bottom: 3mm; min-height: 13mm; }
h1 { font-size: 14pt; }
h2 { font-size: 11pt; margin: 4mm 0 2mm; }
header p { margin: 0; color: var(--soft); }
header dl { display: grid; grid-template-columns: repeat(5, auto); gap: 0 6mm; margin: 0; text-align: right; grid-auto-flow: column; grid-template-rows: auto auto; }
dt { color: var(--soft); }
dd { margin: 0; font-weight: 650; }
.plan { display: block; }
.paper-tags rect { fill: #fff; stroke: #241d17; stroke-width: 0.4; vector-effect: non-scaling-stroke; }
.paper-tags text { text-anchor: middle; font-weight: 650; }
.key { display: flex; align-items: center; gap: 1.5mm; margin-top: 2mm; }
.key i { width: 4mm; height: 2.5mm; margin: 0 -0.75mm; print-color-adjust: exact; }
.rule { border: 1px solid var(--ink); border-top: 0; height: 2.4mm; margin-right: 6mm; text-align: center; line-height: 1; font-size: 7pt; box-sizing: border-box; }
.stop { border: 2px solid var(--ember); padding: 1.5mm 3mm; color: var(--ember); }
.tables { break-before: page; }
.cautions { margin: 0; padding-left: 5mm; }
.grid-table { font-size: 9pt; }
.grid-table td { height: auto; padding: 0.7mm 2mm; }
.grid-table th { position: static; background: none; }
:deep(.loops .tube) { stroke-width: 1.1; print-color-adjust: exact; }
:deep(.loops .broken) { stroke-width: 0.45; stroke: #fff; }
:deep(.rooms *) { print-color-adjust: exact; }
label > .scale { width: 220px; }
.paper-rooms text { text-anchor: middle; fill: var(--soft); font-weight: 600; paint-order: stroke; stroke: #fff; }
.north { width: 5mm; height: 8mm; margin-right: 3mm; }
.north path { fill: var(--ink); }
.north text { text-anchor: middle; font-size: 5px; }
</style>
