<script setup lang="ts">
/** The layers of a build-up under its drawing: the chosen one changed, moved, taken out, another put in; tube and plate. */
import { computed } from "vue";
import type { BuildUp } from "../../api/client";
import QuantityField from "../../kit/QuantityField.vue";
import * as floors from "../../job/floors";
import { store } from "../../job/store";
import { usual } from "../../job/usual";
import { show } from "../../units";
import ChoiceField from "../../kit/ChoiceField.vue";
import CheckField from "../../kit/CheckField.vue";
import TextField from "../../kit/TextField.vue";

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
/** How the plate touches the tube: the usual ones, and what is typed in the job. */
const contacts = computed(() => {
  const usually = (usual()?.contacts ?? []).map((c) => ({ value: c.contact_w_m2k, text: c.name }));
  const now = b.value?.plate?.contact_w_m2k;
  return now === undefined || now === null || usually.some((c) => c.value === now) ? usually : [...usually, { value: now, text: show("transmittance", now, units.value) }];
});
</script>

<template>
  <div v-if="b" class="bar" role="group" aria-label="Layers of the build-up">
    <span class="name">
      <TextField v-if="own" :model-value="b.name" label="Name of the build-up" required @update:model-value="change('name the build-up', (x) => (x.name = $event))" />
      <b v-else>{{ b.name }}</b>
      <span v-if="!own" class="soft">from the library; a change makes it the job's own</span>
    </span>
    <template v-if="layer">
      <label>Layer <ChoiceField :model-value="layer.material_id" :options="materials.map((m) => ({ value: m.id, text: m.name }))" label="Material of the layer" @update:model-value="at((l) => (l.material_id = $event))" /></label>
      <QuantityField of="BuildLayer.thickness_m" :model-value="layer.thickness_m" label="Thickness of the layer" @update:model-value="at((l) => (l.thickness_m = $event!))" />
      <CheckField :model-value="layer.insulation ?? false" label="insulation" @update:model-value="change('mark the insulation', (x) => floors.setInsulation(x, chosen!, $event))">insulation</CheckField>
      <CheckField :model-value="layer.existing ?? false" label="there already" @update:model-value="at((l) => (l.existing = $event))">there already</CheckField>
      <span class="acts">
        <ElButton size="small" :disabled="chosen === 0" aria-label="Move the layer up" @click="move(-1)">↑</ElButton>
        <ElButton size="small" :disabled="chosen === b.layers.length - 1" aria-label="Move the layer down" @click="move(1)">↓</ElButton>
        <ElButton size="small" :disabled="chosen === b.tube_layer" :title="chosen === b.tube_layer ? 'The tube lies in it' : ''" aria-label="Take the layer out" @click="take">×</ElButton>
      </span>
    </template>
    <span v-else class="soft">Choose a layer, drag its lower face, or</span>
    <ElButton size="small" @click="put">Put a layer {{ layer ? "below it" : "in" }}</ElButton>
    <label>Tube from the {{ b.tube_from === "top" ? "top" : "bottom" }} of its layer <QuantityField of="BuildUp.tube_gap_m" :model-value="b.tube_gap_m" label="Distance of the tube in its layer" @update:model-value="change('move the tube', (x) => (x.tube_gap_m = $event!))" /></label>
    <template v-if="b.plate">
      <label>Plate <QuantityField of="BuildPlate.thickness_m" :model-value="b.plate.thickness_m" label="Thickness of the plate" @update:model-value="change('change the plate', (x) => (x.plate!.thickness_m = $event!))" /></label>
      <QuantityField of="BuildPlate.width_m" :model-value="b.plate.width_m" label="Width of the plate" @update:model-value="change('change the plate', (x) => (x.plate!.width_m = $event!))" />
      <ChoiceField class="contact" :model-value="b.plate.contact_w_m2k ?? undefined" :options="contacts" label="Contact of plate and tube" empty="perfect contact" @update:model-value="change('change the contact', (x) => ($event === undefined ? delete x.plate!.contact_w_m2k : (x.plate!.contact_w_m2k = $event)))" />
      <ElButton size="small" @click="change('leave the plate out', (x) => delete x.plate)">No plate</ElButton>
    </template>
    <ElButton v-else size="small" @click="change('put a plate in', (x) => (x.plate = { ...usual()!.plate }))">Heat-transfer plate</ElButton>
  </div>
</template>

<style scoped>
.bar { display: flex; flex-wrap: wrap; gap: 4px 10px; align-items: center; padding: 5px 10px; border-top: 1px solid var(--faint); background: var(--paper); font-size: 13px; }
.name { display: inline-flex; gap: 8px; align-items: baseline; }
.name .el-input { width: 250px; }
.soft { color: var(--soft); }
.bar > label { display: inline-flex; gap: 5px; align-items: center; }
.bar .choice { width: 170px; }
.bar :deep(.quantity.el-input) { width: 76px; }
.acts .el-button { margin: 0 2px 0 0; padding: 4px 7px; }
</style>
