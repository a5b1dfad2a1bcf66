<script setup lang="ts">
/** The heat loss to be handed over: inputs, assumptions, results by room, method and sources. */
import { computed } from "vue";
import type { LossPart, RoomDesign } from "../../api/client";
import { AIR_BY, CAUSES, OTHER_SIDES, USES } from "../../words";
import { construction, uOf } from "../../job/constructions";
import { walls, wallName } from "../../job/edit";
import { store } from "../../job/store";
import { show, type Quantity } from "../../units";
import { UPRIGHT, UPRIGHT_MARGIN, usualPaper } from "./pages";
import PaperFrame from "./PaperFrame.vue";

const { job, design, state, units, library } = store;
const paper = usualPaper();

const s = (q: Quantity, v: number | null | undefined) => show(q, v, units.value);
const envelope = computed(() => job.value!.envelope);
const air = computed(() => job.value!.air);
const ground = computed(() => envelope.value.ground);
const heated = computed(() => (design.value?.rooms ?? []).filter((r) => r.heated));
const unheated = computed(() => (design.value?.rooms ?? []).filter((r) => !r.heated));
const roomOf = (id: string) => job.value!.rooms.find((r) => r.id === id)!;
const levelOf = (id: string) => job.value!.levels.find((l) => l.id === roomOf(id).level_id)?.name ?? "";
const what = (r: RoomDesign, p: LossPart) => {
  const room = roomOf(r.id);
  const wall = p.edge === null || p.edge === undefined ? undefined : walls(room)[p.edge];
  const opening = room.openings.find((o) => o.id === p.subject);
  const name = construction(p.construction_id)?.name ?? (p.cause === "bridge" ? p.subject : undefined) ?? (p.measure === "area" && p.construction_id === null ? "typed U" : undefined);
  const place = wall ? wallName(wall, job.value?.site.north_deg) : p.cause === "roof" ? "above" : p.cause === "floor" ? "below" : "";
  return [name, opening ? `${s("length", opening.width_m)} × ${s("length", opening.height_m)}` : "", place].filter(Boolean).join(", ");
};
const other = (p: LossPart) => job.value!.rooms.find((r) => r.id === p.subject)?.name ?? OTHER_SIDES[p.other];
const amount = (p: LossPart) => s(p.measure === "area" ? "area" : p.measure === "length" ? "length" : "volume", p.amount);
const each = (p: LossPart) => s(p.measure === "area" ? "transmittance" : p.measure === "length" ? "linear" : "volumetric", p.per_kelvin);

const usedConstructions = computed(() => {
  const ids = new Set((design.value?.rooms ?? []).flatMap((r) => r.loss_parts.map((p) => p.construction_id)).filter((id): id is string => Boolean(id)));
  return [...ids].map((id) => construction(id)!).filter(Boolean);
});
const material = (id: string) => [...job.value!.materials, ...(library.value?.materials ?? [])].find((m) => m.id === id);
const layers = (id: string) =>
  (construction(id)?.u ? null : construction(id)?.layers)
    ?.map((l) => `${s("size", l.thickness_m)} ${material(l.material_id)?.name ?? l.material_id}${l.bridge ? ` (${s("share", l.bridge.share)} ${material(l.bridge.material_id)?.name ?? ""})` : ""}`)
    .join(" · ") ?? "U by its maker or typed";
const airWords = computed(() => {
  const a = air.value;
  if (a.method === "typed") return `typed by room, else ${s("rate", a.least_per_h)}`;
  const how = a.method === "blower_door" ? `n50·e·ε, EN 12831-1, ${a.shielding === "none" ? "no" : a.shielding} shielding` : `n50 divided by ${a.divisor}`;
  return `${s("rate", a.n50_per_h)} at 50 Pa (${how}${a.direction_factor !== 1 ? `, times ${a.direction_factor} windward` : ""}), at least ${s("rate", a.least_per_h)}`;
});
const groundWords = computed(() => {
  const g = ground.value;
  if (g.method === "ground_temperature") return `U of the floor toward ${s("temperature", job.value!.site.ground_c)}`;
  if (g.method === "perimeter_factor") return `${s("linear", g.perimeter_w_mk)} along the exposed edge, toward outdoors`;
  const edge = g.edge?.kind === "vertical" ? `, edge insulation ${s("resistance", g.edge.resistance_m2k_w)} to ${s("length", g.edge.depth_m)} deep` : g.edge?.kind === "horizontal" ? `, edge insulation ${s("resistance", g.edge.resistance_m2k_w)} for ${s("length", g.edge.width_m)}` : "";
  return `ISO 13370, ground ${s("linear", g.soil_w_mk)}, B′ ${s("length", design.value?.building.ground_dimension_m)}${edge}; toward the mean of the year ${s("temperature", design.value?.climate.annual_mean_c)}, times 1.45 for the season (EN 12831-1)`;
});
const bridgeWords = computed(() => {
  const b = envelope.value.bridges;
  return b.method === "surcharge" ? `${s("transmittance", b.delta_u)} on every surface to the outside` : `ψ times length off the plan: reveals ${s("linear", b.reveal_psi)}, corners ${s("linear", b.corner_psi)}, roof edge ${s("linear", b.roof_edge_psi)}, floor edge ${s("linear", b.floor_edge_psi)}, ceilings ${s("linear", b.storey_psi)}`;
});
const findings = computed(() => (design.value?.findings ?? []).filter((f) => f.severity !== "note" && ["site", "rooms", "heat_loss"].includes(f.station)));
</script>

<template>
  <PaperFrame v-if="job && design" v-model:paper="paper" label="Heat loss report" :pages="UPRIGHT" :margin="UPRIGHT_MARGIN" print="Print the report">
    <template #bar><slot /></template>
    <template #files>
      <a :href="`/api/jobs/${state.id}/heat-loss.csv`" download>Heat loss as CSV</a>
      <a :href="`/api/jobs/${state.id}/heat-loss.json`" download>as JSON</a>
      <a :href="`/api/jobs/${state.id}/bundle`" download>Job with its records and pictures</a>
    </template>
      <header>
        <h1>{{ job.name }}</h1>
        <p>{{ job.site.place }} · heat loss on the design day</p>
      </header>
      <p v-for="f in findings" :key="f.code + f.subject.id" class="open"><b>Open:</b> {{ f.message }}</p>
      <dl class="sums">
        <div><dt>Heat loss</dt><dd>{{ s("heat", design.building.heat_w) }}</dd></div>
        <div><dt>Down from heated floors</dt><dd>{{ s("heat", design.totals.down_w) }}</dd></div>
        <div><dt>For the source</dt><dd>{{ s("heat", design.totals.source_w) }}</dd></div>
        <div><dt>Load line</dt><dd>{{ s("slope", design.building.w_per_k) }}</dd></div>
      </dl>
      <h2>Rooms</h2>
      <table>
        <thead><tr><th>Room</th><th>Level</th><th>Use</th><th class="num">Design temp.</th><th class="num">Floor</th><th class="num">Air</th><th class="num">Loss</th><th class="num">of heatable floor</th></tr></thead>
        <tbody>
          <tr v-for="r in heated" :key="r.id"><td>{{ r.name }}</td><td>{{ levelOf(r.id) }}</td><td>{{ USES[roomOf(r.id).use] }}</td><td class="num">{{ s("temperature", r.temperature_c) }}</td><td class="num">{{ s("area", r.area_m2) }}</td><td class="num">{{ s("rate", r.air_changes_per_h) }} {{ AIR_BY[r.air_by] }}</td><td class="num"><b>{{ s("heat", r.heat_loss_w) }}</b></td><td class="num">{{ s("flux", r.flux_needed_w_m2) }}</td></tr>
          <tr v-for="r in unheated" :key="r.id"><td>{{ r.name }}</td><td>{{ levelOf(r.id) }}</td><td>unheated</td><td class="num">settles at {{ s("temperature", r.temperature_c) }}</td><td class="num">{{ s("area", r.area_m2) }}</td><td class="num">{{ s("rate", r.air_changes_per_h) }} {{ AIR_BY[r.air_by] }}</td><td></td><td></td></tr>
        </tbody>
        <tfoot>
          <template v-if="design.building.windward_w > 0.5">
            <tr><td colspan="6">Rooms</td><td class="num">{{ s("heat", design.totals.heat_loss_w) }}</td><td></td></tr>
            <tr><td colspan="6">Less: wind does not blow on all sides at once (EN 12831-1)</td><td class="num">{{ s("heat", -design.building.windward_w) }}</td><td></td></tr>
          </template>
          <tr><td colspan="6">Building</td><td class="num"><b>{{ s("heat", design.building.heat_w) }}</b></td><td></td></tr>
        </tfoot>
      </table>
      <h2>By cause</h2>
      <table class="narrow"><tbody><tr v-for="c in design.building.causes" :key="c.cause"><td>{{ CAUSES[c.cause] }}</td><td class="num">{{ s("heat", c.heat_w) }}</td></tr></tbody></table>
      <h2>Inputs and assumptions</h2>
      <dl class="inputs">
        <dt>Outdoors on the design day</dt><dd>{{ s("temperature", job.site.outdoor_c) }}<template v-if="job.site.weather">; weather file {{ job.site.weather.name }} ({{ job.site.weather.source }}): 99.6 % {{ s("temperature", job.site.weather.p99_6_c) }}, 99 % {{ s("temperature", job.site.weather.p99_c) }}</template></dd>
        <dt>Altitude</dt><dd>{{ s("tube", job.site.altitude_m) }}</dd>
        <dt>Areas</dt><dd>{{ envelope.dimensions === "inside" ? "from inside faces, as a tape measures" : "outside surfaces from outside faces; floors from inside faces" }}</dd>
        <dt>Thermal bridges</dt><dd>{{ bridgeWords }}</dd>
        <dt>Ground</dt><dd>{{ groundWords }}</dd>
        <dt>Air change</dt><dd>{{ airWords }}</dd>
        <dt v-if="air.recovery">Ventilation</dt><dd v-if="air.recovery">{{ s("share", air.recovery) }} of the heat recovered</dd>
      </dl>
      <table>
        <thead><tr><th>Construction</th><th>Layers, inside out</th><th class="num">U</th></tr></thead>
        <tbody><tr v-for="c in usedConstructions" :key="c.id"><td>{{ c.name }}</td><td>{{ layers(c.id) }}</td><td class="num">{{ s("transmittance", uOf(c.id)) }}</td></tr></tbody>
      </table>
      <h2>Room by room</h2>
      <section v-for="r in heated" :key="r.id" class="room">
        <h3>{{ r.name }}, {{ s("temperature", r.temperature_c) }}, {{ s("volume", r.volume_m3) }}</h3>
        <table>
          <thead><tr><th>Cause</th><th>What</th><th>To</th><th class="num">Amount</th><th class="num">each</th><th class="num">Difference</th><th class="num">Heat</th></tr></thead>
          <tbody>
            <tr v-for="(p, i) in r.loss_parts" :key="i"><td>{{ CAUSES[p.cause] }}</td><td>{{ what(r, p) }}</td><td>{{ other(p) }}, {{ s("temperature", p.other_c) }}</td><td class="num">{{ amount(p) }}</td><td class="num">{{ each(p) }}</td><td class="num">{{ s("difference", p.difference_k) }}</td><td class="num">{{ s("heat", p.heat_w) }}</td></tr>
          </tbody>
          <tfoot><tr><td colspan="6">Loss</td><td class="num"><b>{{ s("heat", r.heat_loss_w) }}</b></td></tr></tfoot>
        </table>
      </section>
      <h2>Method and sources</h2>
      <ul>
        <li>Transmission U·A·Δθ: U of layers by ISO 6946 (films by direction, mean of upper and lower limit where studs cross a layer), windows and doors by their typed U. Each figure toward outdoors holds the surcharge for bridges, where that is the way.</li>
        <li>Air ρ·c·n·V·Δθ with the density of air at the site's altitude (ISO 2533). Extract that supply makes up for comes over from the rooms supplied.</li>
        <li>Unheated rooms find their temperature by their own balance; heat through a partition leaves one room and enters the other.</li>
        <li>The downward loss of a heated floor, and what is lost at the back of a wall or ceiling field, is no need of its room: it stands in the sum for the source, as far as no heated room on the other side has it.</li>
        <li>Frame: EN 12831-1. Sun, people and machines are left out; no addition for heating up again after a set-back.</li>
      </ul>
      <p class="law">Figures are design aids: follow local code, and makers' declared values rather than the library's. Whoever signs this report has checked the survey behind it.</p>
      <p class="sign">Place, date, name: ____________________________________</p>
  </PaperFrame>
</template>

<style scoped>
header { border-bottom: 1px solid var(--ink); margin-bottom: 3mm; }
header p { margin: 0 0 1mm; color: var(--soft); }
h1 { font-size: 15pt; }
h2 { font-size: 11.5pt; margin: 5mm 0 1.5mm; break-after: avoid; }
h3 { font-size: 10pt; margin: 3mm 0 1mm; break-after: avoid; }
table { border-collapse: collapse; width: 100%; font-size: 8.5pt; margin-bottom: 2mm; }
table.narrow { width: 70mm; }
th { text-align: left; color: var(--soft); font-weight: 600; border-bottom: 1px solid var(--line); padding: 0.5mm 1.5mm; }
td { padding: 0.4mm 1.5mm; border-bottom: 1px solid #eee7da; vertical-align: top; }
.num, .room td:first-child { white-space: nowrap; }
.num { text-align: right; }
tfoot td { border-top: 1px solid var(--ink); font-weight: 600; }
tr { break-inside: avoid; }
/* a room's table is read in one piece where a page has the height for it */
.room { break-inside: avoid; }
.sums { display: grid; grid-template-columns: repeat(4, auto); gap: 2mm 8mm; margin: 0; justify-content: start; }
.sums dt, .inputs dt { color: var(--soft); }
.sums dd { margin: 0; font-weight: 650; font-size: 12pt; }
.inputs { display: grid; grid-template-columns: 44mm 1fr; gap: 0.6mm 4mm; margin: 0 0 3mm; }
.inputs dd { margin: 0; }
.open { border-left: 3px solid var(--ember); padding-left: 2mm; margin: 0 0 1mm; }
.law { margin-top: 3mm; }
.sign { margin-top: 10mm; }
</style>
