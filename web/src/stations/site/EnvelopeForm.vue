<script setup lang="ts">
/** The constructions of the building, and how bridges, ground and air are calculated. */
import { computed, ref } from "vue";
import type { Envelope, Job, Position } from "../../api/client";
import ConstructionField from "../../kit/ConstructionField.vue";
import JobField from "../../kit/JobField.vue";
import { ALIKE, uOf } from "../../job/constructions";
import { plain } from "../../job/edit";
import { store } from "../../job/store";
import { usual } from "../../job/usual";
import { figure, show } from "../../units";
import ConstructionEditor from "./ConstructionEditor.vue";
import ChoiceField from "../../kit/ChoiceField.vue";
import TextField from "../../kit/TextField.vue";

const { job, design, units } = store;
const envelope = computed(() => job.value!.envelope);
const ground = computed(() => envelope.value.ground);
const air = computed(() => job.value!.air);
const change = (what: (draft: Job) => void) => store.edit("change the building", what);
const editing = ref<{ position: Position; id: string; part: keyof Envelope } | null>(null);

type Part = "outside_wall_id" | "window_id" | "outside_door_id" | "roof_id" | "partition_id" | "ceiling_id" | "floor_id";
const PARTS: [Part, string, Position][] = [
  ["outside_wall_id", "Outside wall", "wall"],
  ["window_id", "Window", "window"],
  ["outside_door_id", "Outside door", "door"],
  ["roof_id", "Roof, ceiling under attic", "roof"],
  ["ceiling_id", "Between storeys", "ceiling"],
  ["floor_id", "Floor without heating", "floor"],
  ["partition_id", "Partition", "partition"],
];
type Psi = "reveal_psi" | "corner_psi" | "roof_edge_psi" | "floor_edge_psi" | "storey_psi";
const PSI: [Psi, string][] = [
  ["reveal_psi", "Round windows and doors"],
  ["corner_psi", "Outside corners"],
  ["roof_edge_psi", "Wall to roof"],
  ["floor_edge_psi", "Wall to lowest floor"],
  ["storey_psi", "Ends of ceilings"],
];
const setBridges = (method: string) => change((j) => (j.envelope.bridges = plain(method === "surcharge" ? usual()!.surcharge : usual()!.bridges)));
const setEdge = (kind: string) =>
  change((j) => (j.envelope.ground.edge = kind === "horizontal" ? plain(usual()!.edge_horizontal) : kind === "vertical" ? plain(usual()!.edge_vertical) : { kind: "none" }));
const setGround = (set: Partial<Envelope["ground"]>) => change((j) => Object.assign(j.envelope.ground, set));
const setAir = (set: Partial<Job["air"]>) => change((j) => Object.assign(j.air, set));
type Crawl = NonNullable<Envelope["ground"]["crawl"]>;
const CRAWL: [keyof Crawl, string, string?][] = [
  ["height_m", "Floor over the ground outside"],
  ["wall_u", "U of its walls"],
  ["vents_m2_m", "Vents per length of edge", "Free area of the vents for each metre of outside wall"],
  ["wind_m_s", "Wind", "Mean wind at 10 m over open ground"],
  ["shielding", "Shielding from the wind", "0.02 sheltered, 0.05 ordinary, 0.10 exposed (ISO 13370)"],
  ["base_m2k_w", "Insulation on its ground"],
];
const usesCrawl = computed(() => job.value!.rooms.some((r) => r.below.kind === "crawl_space"));
const old = computed(() => job.value!.old_source);
const setOld = (set: { name?: string; input_w?: number; output_w?: number }) => change((j) => (j.old_source = { name: "", ...j.old_source, ...set }));
</script>

<template>
  <h2>Wall, floor and roof constructions</h2>
  <dl class="parts">
    <template v-for="[key, name, position] in PARTS" :key="key">
      <dt>{{ name }}</dt>
      <dd>
        <ConstructionField :model-value="envelope[key]" :positions="ALIKE[position]" :label="name" @update:model-value="$event && change((j) => (j.envelope[key] = $event!))" />
        <ElButton size="small" :aria-label="`Layers of ${name.toLowerCase()}`" :title="`${show('transmittance', uOf(envelope[key]), units)}: its layers`" @click="editing = { position, id: envelope[key], part: key }">U {{ uOf(envelope[key]) === undefined ? "" : figure("transmittance", uOf(envelope[key])!, units) }}</ElButton>
      </dd>
    </template>
    <dt>Areas from</dt>
    <dd><ChoiceField :model-value="envelope.dimensions" :options="{ inside: 'inside faces', outside: 'outside faces, corners in full' }" label="Areas from" @update:model-value="change((j) => (j.envelope.dimensions = $event as 'inside'))" /></dd>
    <dt>Thermal bridges</dt>
    <dd>
      <ChoiceField :model-value="envelope.bridges.method" :options="{ surcharge: 'surcharge on every surface', linear: 'ψ times length, off the plan' }" label="Thermal bridges" @update:model-value="setBridges($event)" />
      <JobField v-if="envelope.bridges.method === 'surcharge'" path="envelope.bridges.delta_u" label="Surcharge for thermal bridges" wide />
    </dd>
    <template v-if="envelope.bridges.method === 'linear'">
      <template v-for="[key, name] in PSI" :key="key">
        <dt class="sub">{{ name }}</dt><dd><JobField :path="`envelope.bridges.${key}`" :label="`ψ ${name.toLowerCase()}`" wide /></dd>
      </template>
    </template>
  </dl>
  <h2>Ground</h2>
  <dl>
    <dt>Calculated by</dt>
    <dd><ChoiceField :model-value="ground.method" :options="{ iso13370: 'ISO 13370, from floor area and edge', perimeter_factor: 'perimeter factor', ground_temperature: 'U toward a ground temperature' }" label="Calculated by" @update:model-value="setGround({ method: $event as 'iso13370' })" /></dd>
    <template v-if="ground.method === 'iso13370'">
      <dt>Conductivity of the ground</dt><dd><JobField path="envelope.ground.soil_w_mk" label="Conductivity of the ground" hint="Sand or gravel 2.0, clay 1.5, rock 3.5 W/mK (ISO 13370)" wide /></dd>
      <dt>Insulation along the edge</dt>
      <dd><ChoiceField :model-value="ground.edge?.kind ?? 'none'" :options="{ none: 'none', horizontal: 'horizontal, under the edge', vertical: 'vertical, along the foundation' }" label="Insulation along the edge" @update:model-value="setEdge($event)" /></dd>
      <template v-if="ground.edge && ground.edge.kind !== 'none'">
        <dt class="sub">{{ ground.edge.kind === "vertical" ? "Depth" : "Width" }}</dt>
        <dd><JobField :path="`envelope.ground.edge.${ground.edge.kind === 'vertical' ? 'depth_m' : 'width_m'}`" label="Reach of the edge insulation" /></dd>
        <dt class="sub">Resistance</dt><dd><JobField path="envelope.ground.edge.resistance_m2k_w" label="Resistance of the edge insulation" wide /></dd>
        <dt class="sub">Thickness</dt><dd><JobField path="envelope.ground.edge.thickness_m" label="Thickness of the edge insulation" /></dd>
      </template>
      <template v-if="design?.building.ground_dimension_m">
        <dt>B′ and U found</dt><dd>{{ show("length", design.building.ground_dimension_m, units) }}, {{ show("transmittance", design.building.ground_u, units) }}</dd>
      </template>
    </template>
    <template v-if="ground.method === 'perimeter_factor'">
      <dt>Heat per length of edge</dt><dd><JobField path="envelope.ground.perimeter_w_mk" label="Perimeter factor" wide /></dd>
    </template>
    <dt>Thickness of typed walls</dt><dd><JobField path="envelope.ground.wall_m" label="Thickness of outside walls" hint="Where the wall has no layers, and at the ground" /></dd>
    <template v-if="usesCrawl">
      <template v-for="[key, name, hint] in CRAWL" :key="key">
        <dt class="sub">Crawl space: {{ name.toLowerCase() }}</dt><dd><JobField :path="`envelope.ground.crawl.${key}`" :label="`Crawl space: ${name.toLowerCase()}`" :hint="hint" wide /></dd>
      </template>
    </template>
  </dl>
  <h2>Air</h2>
  <dl>
    <dt>Rooms without a typed change</dt>
    <dd><ChoiceField :model-value="air.method" :options="{ typed: 'take the least change', blower_door: 'blower door, EN 12831-1', divided: 'blower door divided by a number' }" label="Rooms without a typed change" @update:model-value="setAir({ method: $event as 'typed' })" /></dd>
    <template v-if="air.method !== 'typed'">
      <dt>Blower door, n50</dt><dd><JobField path="air.n50_per_h" label="Air changes at 50 Pa" /></dd>
      <template v-if="air.method === 'blower_door'">
        <dt>Stands in the wind</dt><dd><ChoiceField :model-value="air.shielding" :options="{ none: 'open', moderate: 'moderately shielded', heavy: 'heavily shielded' }" label="Stands in the wind" @update:model-value="setAir({ shielding: $event as 'none' })" /></dd>
      </template>
      <template v-else><dt>Divided by</dt><dd><JobField path="air.divisor" label="Divisor of n50" quantity="count" /></dd></template>
      <dt>Windward factor</dt><dd><JobField path="air.direction_factor" label="Windward factor" hint="1: the mean over the building; 2: every room as if the wind stood on it, EN 12831-1" /></dd>
    </template>
    <dt>Least air change</dt><dd><JobField path="air.least_per_h" label="Least air change" hint="What people need" /></dd>
    <dt>Heat recovered by ventilation</dt><dd><JobField path="air.recovery" label="Heat recovered by the ventilation" /></dd>
  </dl>
  <h2>Old heat source</h2>
  <dl>
    <dt>What it is</dt><dd><TextField :model-value="old?.name ?? ''" label="What it is" @update:model-value="setOld({ name: $event })" /></dd>
    <dt>Input by its label</dt><dd><JobField path="old_source.input_w" label="Input of the old source" wide empty="not read" :write="(v) => setOld({ input_w: v })" /></dd>
    <dt>Output by its label</dt><dd><JobField path="old_source.output_w" label="Output of the old source" wide empty="not read" :write="(v) => setOld({ output_w: v })" /></dd>
  </dl>
  <ConstructionEditor v-if="editing" :id="editing.id" :position="editing.position" @close="editing = null" @use="change((j) => ((j.envelope as Record<string, unknown>)[editing!.part] = $event)); editing = { ...editing, id: $event }" />
</template>

<style scoped>
dd { display: flex; gap: 4px 6px; align-items: center; }
.parts dd { min-width: 0; }
.parts dd > .choice { flex: 1 1 130px; width: auto; min-width: 0; max-width: 260px; }
.parts dd > .el-button { min-width: 66px; margin: 0; }
.parts dd :deep(.quantity) { flex: none; }
.sub { padding-left: 14px; }
</style>
