<script setup lang="ts">
/** Place and climate, the usual transmittances, the firm's rules. */
import { computed, ref } from "vue";
import type { Job } from "../../api/client";
import JobField from "../../kit/JobField.vue";
import { CONTROLS, MIXINGS, PREFERENCES } from "../../words";
import { tubes } from "../../products/products";
import { store } from "../../job/store";
import { usual } from "../../job/usual";
import Climate from "./Climate.vue";
import EnvelopeForm from "./EnvelopeForm.vue";
import { dialect, parseLength, show } from "../../units";
import ChoiceField from "../../kit/ChoiceField.vue";
import TextField from "../../kit/TextField.vue";

const { job, units } = store;
const site = computed(() => job.value!.site);
const rules = computed(() => job.value!.rules);
const change = (what: (draft: Job) => void) => store.edit("change the site", what);

type Rules = Job["rules"];
type Numbers = { [K in keyof Rules]-?: Rules[K] extends number ? K : never }[keyof Rules];
const RULES: [Numbers, string][] = [
  ["edge_band_m", "Perimeter zone along outside walls"],
  ["wall_clearance_m", "First tube to wall"],
  ["lane_spacing_m", "Between leaders"],
  ["sleeve_saves_m", "Sleeves are worth drilling when they save more than"],
  ["share_below_m", "Rooms of one zone share loops shorter than"],
  ["min_gap_m", "Least gap of any tubes"],
  ["surface_limit_c", "Surface where people stay"],
  ["surface_limit_edge_c", "Surface in the perimeter zone"],
  ["surface_limit_bath_over_room_k", "Bath surface over its room"],
  ["surface_limit_wall_c", "Surface of a wall field"],
  ["surface_limit_ceiling_c", "Surface of a ceiling field"],
  ["striping_limit_k", "Surface ripple, up to"],
  ["temperature_drop_k", "Temperature drop in the governing room"],
  ["largest_drop_k", "Largest drop"],
  ["least_flow_l_min", "Least flow of a loop"],
  ["head_limit_pa", "Pressure drop of one loop"],
];
/** Rules for floors that people stay on. */
const FLOORS = new Set(["surface_limit_c", "surface_limit_edge_c", "surface_limit_bath_over_room_k", "surface_limit_wall_c", "surface_limit_ceiling_c", "striping_limit_k", "share_below_m"]);
const shownRules = computed(() => RULES.filter(([key]) => !job.value?.outdoors || !FLOORS.has(key)));
const laid = computed(() => {
  const used = new Set((job.value?.rooms ?? []).flatMap((r) => (r.floor ? [r.floor.tube_id] : [])));
  return tubes().filter((t) => used.has(t.id) || rules.value.longest_loop_m[t.id] !== undefined || used.size === 0);
});
const FLUIDS = { water: "Water", propylene_glycol: "Propylene glycol", ethylene_glycol: "Ethylene glycol" } as const;
const spacings = computed(() => rules.value.spacings_m.map((s) => show("size", s, units.value)).join(", "));
const spacingsWrong = ref("");
function setSpacings(text: string) {
  const read = text.split(/[,;]/).map((t) => parseLength(t, units.value, "size"));
  const wrong = read.some((s) => s === null || s < 0.05 || s > 0.6);
  spacingsWrong.value = wrong ? `Spacings from ${show("size", 0.05, units.value)} to ${show("size", 0.6, units.value)}, with commas between.` : "";
  if (!wrong) change((j) => (j.rules.spacings_m = [...new Set(read as number[])].sort((a, b) => a - b)));
}
</script>

<template>
  <div v-if="job" class="site" tabindex="0" role="region" aria-label="Site">
    <section>
      <h2>Place and climate</h2>
      <dl>
        <dt>Job</dt><dd><TextField :model-value="job.name" label="Job" required @update:model-value="change((j) => (j.name = $event))" /></dd>
        <dt>Customer</dt><dd><TextField :model-value="job.customer" label="Customer" @update:model-value="change((j) => (j.customer = $event))" /></dd>
        <dt>Address</dt><dd><TextField :model-value="job.address" label="Address" :max="400" @update:model-value="change((j) => (j.address = $event))" /></dd>
        <dt>Place</dt><dd><TextField :model-value="site.place" label="Place" @update:model-value="change((j) => (j.site.place = $event))" /></dd>
        <dt>Units of the job</dt><dd><ChoiceField :model-value="site.units" :options="{ metric: 'metric', us: 'US' }" label="Units of the job" @update:model-value="change((j) => (j.site.units = $event))" /></dd>
        <dt>Heating fluid</dt>
        <dd>
          <ChoiceField :model-value="job.fluid?.kind ?? 'water'" :options="FLUIDS" label="Heating fluid" @update:model-value="change((j) => (j.fluid = { kind: $event as 'water', mass_fraction: $event === 'water' ? 0 : usual()!.glycol }))" />
          <JobField v-if="job.fluid && job.fluid.kind !== 'water'" path="fluid.mass_fraction" label="Share of glycol by mass" />
        </dd>
      </dl>
      <Climate />
    </section>
    <section v-if="!job.outdoors">
      <EnvelopeForm />
    </section>
    <section>
      <h2>House rules</h2>
      <dl>
        <dt>Name</dt><dd><TextField :model-value="rules.name" label="Name" @update:model-value="change((j) => (j.rules.name = $event))" /></dd>
        <dt>Why</dt><dd><TextField :model-value="rules.reason" label="Why" :max="400" @update:model-value="change((j) => (j.rules.reason = $event))" /></dd>
        <template v-for="t in laid" :key="t.id">
          <dt>Longest loop, {{ t.name }}</dt>
          <dd><JobField :path="`rules.longest_loop_m.${t.id}`" :label="`Longest loop of ${t.name}`" :empty="show('tube', t.longest_loop_m, units)" /></dd>
        </template>
        <dt>Spacings offered</dt><dd><TextField :model-value="spacings" label="Spacings offered" @update:model-value="setSpacings" /><span v-if="spacingsWrong" class="wrong" role="alert">{{ spacingsWrong }}</span></dd>
        <template v-for="[key, name] in shownRules" :key="key">
          <dt>{{ dialect(name, units) }}</dt><dd><JobField :path="`rules.${key}`" :label="name" /></dd>
        </template>
        <dt>Floors compared, first by</dt>
        <dd><ChoiceField :model-value="rules.prefer" :options="PREFERENCES" label="Floors compared, first by" @update:model-value="change((j) => (j.rules.prefer = $event as typeof rules.prefer))" /></dd>
        <dt>Loops of a manifold</dt>
        <dd><ChoiceField :model-value="rules.equal_loops ? 'equal' : 'valves'" :options="{ valves: 'balanced by valves', equal: 'of equal length' }" label="Loops of a manifold" @update:model-value="change((j) => (j.rules.equal_loops = $event === 'equal'))" /></dd>
        <dt>Leaders outside the rooms that they serve</dt>
        <dd><ChoiceField :model-value="rules.insulated_leaders ? 'sleeves' : 'bare'" :options="{ bare: 'bare', sleeves: 'in insulating sleeves' }" label="Leaders outside the rooms that they serve" @update:model-value="change((j) => (j.rules.insulated_leaders = $event === 'sleeves'))" /></dd>
        <dt>Pump of a new circuit</dt>
        <dd><ChoiceField :model-value="rules.pump_control ?? 'constant_pressure'" :options="CONTROLS" label="Pump of a new circuit" @update:model-value="change((j) => (j.rules.pump_control = $event as typeof rules.pump_control))" /></dd>
        <dt>Mixing of a new circuit</dt>
        <dd><ChoiceField :model-value="rules.mixing ?? 'three_way'" :options="MIXINGS" label="Mixing of a new circuit" @update:model-value="change((j) => (j.rules.mixing = $event as typeof rules.mixing))" /></dd>
        <template v-for="(rate, i) in rules.flat_rates" :key="i">
          <dt><TextField :model-value="rate.name" :label="`Name of rule of thumb ${i + 1}`" class="rate" @update:model-value="change((j) => (j.rules.flat_rates[i]!.name = $event))" /></dt>
          <dd><JobField :path="`rules.flat_rates[${i}].w_m2`" :label="`Rule of thumb ${i + 1}`" hint="Shown beside the calculated heat loss" wide /> <ElButton link type="primary" @click="change((j) => j.rules.flat_rates.splice(i, 1))">Delete</ElButton></dd>
        </template>
        <dt></dt><dd><ElButton v-if="rules.flat_rates.length < 10" link type="primary" @click="change((j) => j.rules.flat_rates.push({ name: 'Rule of thumb', w_m2: 100 }))">Add a rule of thumb to compare with</ElButton></dd>
      </dl>
      <p class="why">The verdict names the rule behind each finding. Figures are design aids. Follow local code and the manufacturer's instructions.</p>
    </section>
  </div>
</template>

<style scoped>
.wrong { color: var(--ember); font-size: 13px; }
.site { display: grid; grid-template-columns: repeat(auto-fit, minmax(330px, 1fr)); gap: 8px 28px; padding: 14px 18px; overflow: auto; background: var(--sheet); align-content: start; }
h2 { margin: 4px 0 8px; }
dl { display: grid; grid-template-columns: minmax(120px, 38%) minmax(0, 1fr); gap: 4px 14px; margin: 0 0 18px; align-items: center; }
dt { color: var(--soft); }
dd { margin: 0; }
.site :deep(h2) { margin: 4px 0 8px; }
.site :deep(dl) { display: grid; grid-template-columns: minmax(120px, 38%) minmax(0, 1fr); gap: 4px 14px; margin: 0 0 18px; align-items: center; }
.site :deep(dt) { color: var(--soft); }
.site :deep(dd) { margin: 0; }
.site :deep(dd > .el-input) { max-width: 260px; }
.rate { width: 100%; }
.why { color: var(--soft); max-width: 46ch; }
</style>
