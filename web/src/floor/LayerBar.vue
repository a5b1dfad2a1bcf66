<script setup lang="ts">
/** The layers of a build-up under its drawing: the chosen one changed, moved, taken out, another put in; tube and sheet. */
import { computed } from "vue";
import type { BuildUp } from "../api/client";
import Quantity from "../components/Quantity.vue";
import * as floors from "../job/floors";
import { store } from "../job/store";
import { show } from "../units";

const props = defineProps<{ use: floors.Use; buildUpId: string | undefined; chosen: number | null }>();
const emit = defineEmits<{ choose: [index: number | null] }>();
const { job, library, units } = store;
const b = computed(() => floors.buildUp(props.buildUpId));
const own = computed(() => floors.isOwn(props.buildUpId));
const layer = computed(() => (props.chosen === null ? undefined : b.value?.layers[props.chosen]));
const materials = computed(() => [...(job.value?.materials ?? []), ...(library.value?.materials ?? [])]);
const change = (label: string, what: (b: BuildUp) => void) => floors.changeBuildUp(props.use, label, what);
const at = (what: (l: BuildUp["layers"][number], b: BuildUp) => void) => {
  const i = props.chosen!;
  change("change a layer", (b) => b.layers[i] && what(b.layers[i], b));
};
const value = (e: Event) => (e.target as HTMLSelectElement).value;
const checked = (e: Event) => (e.target as HTMLInputElement).checked;
function put() {
  const after = props.chosen ?? (b.value?.layers.length ?? 1) - 1;
  change("add a layer", (b) => floors.addLayer(b, after, { material_id: "eps-035", thickness_m: 0.02 }));
  emit("choose", after + 1);
}
function move(by: -1 | 1) {
  const i = props.chosen!;
  change("move a layer", (b) => floors.moveLayer(b, i, by));
  emit("choose", i + by);
}
function take() {
  const i = props.chosen!;
  change("take a layer out", (b) => floors.removeLayer(b, i));
  emit("choose", null);
}
const CONTACTS = [
  { value: "", name: "perfect contact" },
  { value: "1000", name: "bead of sealant" },
  { value: "500", name: "pressed in" },
  { value: "250", name: "snapped in" },
  { value: "130", name: "loose, 0.2 mm of air" },
  { value: "52", name: "loose, 0.5 mm of air" },
];
const contact = computed(() => String(b.value?.plate?.contact_w_m2k ?? ""));
</script>

<template>
  <div v-if="b" class="bar" role="group" aria-label="Layers of the build-up">
    <span class="name">
      <input v-if="own" :value="b.name" aria-label="Name of the build-up" maxlength="200" @change="value($event).trim() && change('name the build-up', (x) => (x.name = value($event).trim()))" />
      <b v-else>{{ b.name }}</b>
      <span v-if="!own" class="soft">from the library; a change makes it the job's own</span>
    </span>
    <template v-if="layer">
      <label>Layer <select :value="layer.material_id" aria-label="Material of the layer" @change="at((l) => (l.material_id = value($event)))"><option v-for="m in materials" :key="m.id" :value="m.id">{{ m.name }}</option></select></label>
      <Quantity :model-value="layer.thickness_m" quantity="thickness" label="Thickness of the layer" :min="0.0005" :max="2" @update:model-value="at((l) => (l.thickness_m = $event!))" />
      <label><input type="checkbox" :checked="layer.insulation ?? false" @change="change('mark the insulation', (x) => floors.setInsulation(x, chosen!, checked($event)))" /> insulation</label>
      <label><input type="checkbox" :checked="layer.existing ?? false" @change="at((l) => (l.existing = checked($event)))" /> there already</label>
      <span class="acts">
        <button :disabled="chosen === 0" aria-label="Move the layer up" @click="move(-1)">↑</button>
        <button :disabled="chosen === b.layers.length - 1" aria-label="Move the layer down" @click="move(1)">↓</button>
        <button :disabled="chosen === b.tube_layer" :title="chosen === b.tube_layer ? 'The tube lies in it' : ''" aria-label="Take the layer out" @click="take">×</button>
      </span>
    </template>
    <span v-else class="soft">Choose a layer, drag its lower face, or</span>
    <button class="do" @click="put">Put a layer {{ layer ? "below it" : "in" }}</button>
    <label>Tube from the {{ b.tube_from === "top" ? "top" : "bottom" }} of its layer <Quantity :model-value="b.tube_gap_m" quantity="thickness" label="Distance of the tube in its layer" :min="0" :max="1" @update:model-value="change('move the tube', (x) => (x.tube_gap_m = $event!))" /></label>
    <template v-if="b.plate">
      <label>Plate <Quantity :model-value="b.plate.thickness_m" quantity="thickness" label="Thickness of the plate" :min="0.00005" :max="0.01" @update:model-value="change('change the plate', (x) => (x.plate!.thickness_m = $event!))" /></label>
      <Quantity :model-value="b.plate.width_m" quantity="size" label="Width of the plate" :min="0.005" :max="0.6" @update:model-value="change('change the plate', (x) => (x.plate!.width_m = $event!))" />
      <select :value="contact" aria-label="Contact of sheet and tube" @change="change('change the contact', (x) => (value($event) ? (x.plate!.contact_w_m2k = Number(value($event))) : delete x.plate!.contact_w_m2k))">
        <option v-for="c in CONTACTS" :key="c.value" :value="c.value">{{ c.name }}</option>
        <option v-if="!CONTACTS.some((c) => c.value === contact)" :value="contact">{{ show("transmittance", Number(contact), units) }}</option>
      </select>
      <button class="do" @click="change('leave the plate out', (x) => delete x.plate)">No plate</button>
    </template>
    <button v-else class="do" @click="change('put a plate in', (x) => (x.plate = { thickness_m: 0.0005, width_m: 0.15, conductivity_w_mk: 200, wrap: 'none', contact_w_m2k: 500 }))">Heat-transfer plate</button>
  </div>
</template>

<style scoped>
.bar { display: flex; flex-wrap: wrap; gap: 4px 10px; align-items: center; padding: 5px 10px; border-top: 1px solid var(--faint); background: var(--paper); font-size: 13px; }
.name { display: inline-flex; gap: 8px; align-items: baseline; }
.name input { width: 250px; font-weight: 650; }
.soft { color: var(--soft); }
.do, .acts button { border: 1px solid var(--line); background: var(--sheet); border-radius: 3px; padding: 1px 8px; cursor: pointer; }
.acts button:disabled { color: #837868; cursor: default; }
select { max-width: 170px; }
.bar :deep(.quantity) { width: 72px; }
</style>
