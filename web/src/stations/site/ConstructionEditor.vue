<script setup lang="ts">
/**
 * A construction layer by layer, drawn as a section. Those of the library are looked at; a copy of them, or a new one,
 * belongs to the job and can be changed.
 */
import { computed, ref } from "vue";
import type { Construction, Job, Layer, Material, Position } from "../../api/client";
import QuantityField from "../../kit/QuantityField.vue";
import { POSITIONS } from "../../words";
import { construction, uOf } from "../../job/constructions";
import { newId, plain } from "../../job/edit";
import { store } from "../../job/store";
import { tone } from "../../kit/tone";
import { show, showConductivity } from "../../units";
import ChoiceField from "../../kit/ChoiceField.vue";
import TextField from "../../kit/TextField.vue";

const props = defineProps<{ position: Position; id: string }>();
const emit = defineEmits<{ close: []; use: [id: string] }>();
const { job, library, design, units } = store;
const shown = computed(() => construction(props.id));
const own = computed(() => job.value?.constructions.some((c) => c.id === props.id) ?? false);
const materials = computed<Material[]>(() => [...(job.value?.materials ?? []), ...(library.value?.materials ?? [])]);
const material = (id: string) => materials.value.find((m) => m.id === id);
const layers = computed(() => shown.value?.layers ?? []);
const thickness = computed(() => layers.value.reduce((sum, l) => sum + l.thickness_m, 0));
const floorlike = computed(() => props.position === "floor" || props.position === "ceiling");

const change = (label: string, what: (c: Construction, j: Job) => void) =>
  store.edit(label, (j) => {
    const c = j.constructions.find((c) => c.id === props.id);
    if (c) what(c, j);
  });
function add(from: Construction | undefined) {
  let id = "";
  store.edit("add construction", (j) => {
    id = newId(j, "construction");
    const start: Construction = from ? { ...plain(from), name: `${from.name}, own` } : { id, name: "New construction", position: props.position, layers: [{ material_id: "brick-1200", thickness_m: 0.24 }] };
    delete start.class;
    j.constructions.push({ ...start, id, position: props.position });
  });
  emit("use", id);
}
function setTyped(on: boolean) {
  change(on ? "type U" : "take layers", (c) => {
    if (on) c.u = Math.round((uOf(c.id) ?? 0.3) * 1000) / 1000;
    else {
      delete c.u;
      if (!c.layers?.length) c.layers = [{ material_id: "brick-1200", thickness_m: 0.24 }];
    }
  });
}
const setLayer = (i: number, set: Partial<Layer>) => change("change layer", (c) => Object.assign(c.layers![i]!, set));
function move(i: number, by: number) {
  change("move layer", (c) => {
    const [l] = c.layers!.splice(i, 1);
    c.layers!.splice(i + by, 0, l!);
  });
}
const wanted = ref({ name: "", conductivity: undefined as number | undefined, density: undefined as number | undefined });
function addMaterial() {
  const { name, conductivity, density } = wanted.value;
  if (!name.trim() || !conductivity) return;
  store.edit("add material", (j) => {
    j.materials.push({ id: newId(j, "material"), name: name.trim(), conductivity_w_mk: conductivity, density_kg_m3: density ?? 1000, heat_capacity_j_kgk: 1000, source: "typed for this job" });
  });
  wanted.value = { name: "", conductivity: undefined, density: undefined };
}
const bands = computed(() => {
  const least = 0.006;
  const drawn = layers.value.map((l) => Math.max(l.thickness_m, least));
  const all = drawn.reduce((a, b) => a + b, 0);
  let at = 0;
  return layers.value.map((l, i) => {
    const size = (drawn[i]! / all) * 100;
    at += size;
    return { at: at - size, size, tone: tone(material(l.material_id)?.conductivity_w_mk), bridge: Boolean(l.bridge), title: `${material(l.material_id)?.name ?? l.material_id}, ${show("size", l.thickness_m, units.value)}` };
  });
});
const u = computed(() => (own.value ? design.value?.constructions.find((c) => c.id === props.id)?.u : uOf(props.id)));
</script>

<template>
  <ElDialog :model-value="true" :title="`${POSITIONS[position]}: ${shown?.name ?? ''}`" width="900" @close="emit('close')">
    <div v-if="shown" class="editor">
      <figure>
        <svg viewBox="0 0 220 120" preserveAspectRatio="none" role="img" :aria-label="`Section: ${bands.map((b) => b.title).join('; ')}`">
          <g :transform="floorlike ? 'translate(20 10) scale(1.8 1)' : 'translate(20 10) scale(1.8 1)'">
            <template v-for="(b, i) in bands" :key="i">
              <rect v-if="floorlike" x="0" :y="b.at" width="100" :height="b.size" :fill="b.tone"><title>{{ b.title }}</title></rect>
              <rect v-else :x="b.at" y="0" :width="b.size" height="100" :fill="b.tone"><title>{{ b.title }}</title></rect>
              <rect v-if="b.bridge && !floorlike" :x="b.at" y="40" :width="b.size" height="14" class="stud" />
              <rect v-if="b.bridge && floorlike" x="42" :y="b.at" width="10" :height="b.size" class="stud" />
            </template>
          </g>
        </svg>
        <figcaption>{{ floorlike ? "above" : "inside" }} → {{ floorlike ? "below" : "outside" }} · {{ shown.u ? "U typed" : show("size", thickness, units) }}</figcaption>
        <p class="u">U {{ show("transmittance", u, units) }}</p>
        <p class="quiet">{{ shown.u ? shown.source : "ISO 6946: films by direction, mean of upper and lower limit where studs cross a layer" }}</p>
        <p v-if="shown.g" class="quiet">g {{ show("share", shown.g, units) }}</p>
      </figure>
      <div class="side">
        <p v-if="!own" class="note">This one belongs to the library. <ElButton size="small" @click="add(shown)">Copy it to change it</ElButton> <ElButton size="small" @click="add(undefined)">New one</ElButton></p>
        <template v-else>
          <p><label>Name <TextField :model-value="shown.name" label="Name of the construction" required class="name" @update:model-value="change('name construction', (c) => (c.name = $event))" /></label> <ElButton size="small" @click="add(undefined)">New one</ElButton></p>
          <p>
            <ElRadioGroup :model-value="typeof shown.u === 'number' ? 'typed' : 'layers'" size="small" @update:model-value="setTyped($event === 'typed')">
              <ElRadio value="layers" :disabled="position === 'window' || position === 'door'">by layers</ElRadio>
              <ElRadio value="typed">typed U</ElRadio>
            </ElRadioGroup>
            <QuantityField v-if="typeof shown.u === 'number'" of="Construction.u" :model-value="shown.u" label="U typed" wide @update:model-value="change('type U', (c) => (c.u = $event!))" />
            <template v-if="position === 'window' || position === 'door'"> <label>g <QuantityField of="Construction.g" :model-value="shown.g" label="g-value" empty="none" @update:model-value="change('type g', (c) => ($event === undefined ? delete c.g : (c.g = $event)))" /></label></template>
          </p>
        </template>
        <table v-if="!shown.u && layers.length" class="grid-table">
          <thead><tr><th>Layer</th><th class="num">Thickness</th><th class="num">{{ units === "us" ? "R per inch" : "λ" }}</th><th>Bridged by</th><th></th></tr></thead>
          <tbody>
            <tr v-for="(l, i) in layers" :key="i">
              <td><ChoiceField v-if="own" :model-value="l.material_id" :options="materials.map((m) => ({ value: m.id, text: m.name }))" :label="`Material of layer ${i + 1}`" @update:model-value="setLayer(i, { material_id: $event })" /><span v-else>{{ material(l.material_id)?.name }}</span></td>
              <td class="num"><QuantityField v-if="own" of="ConstructionLayer.thickness_m" :model-value="l.thickness_m" :label="`Thickness of layer ${i + 1}`" @update:model-value="setLayer(i, { thickness_m: $event! })" /><span v-else>{{ show("size", l.thickness_m, units) }}</span></td>
              <td class="num" :title="material(l.material_id)?.source">{{ material(l.material_id)?.conductivity_w_mk ? showConductivity(material(l.material_id)!.conductivity_w_mk, units) : "air" }}</td>
              <td>
                <template v-if="own">
                  <ChoiceField :model-value="l.bridge?.material_id" :options="materials.map((m) => ({ value: m.id, text: m.name }))" :label="`Studs of layer ${i + 1}`" empty="nothing" @update:model-value="setLayer(i, { bridge: $event ? { material_id: $event, share: l.bridge?.share ?? 0.12 } : undefined })" />
                  <QuantityField v-if="l.bridge" of="LayerBridge.share" :model-value="l.bridge.share" :label="`Share of studs in layer ${i + 1}`" @update:model-value="setLayer(i, { bridge: { ...l.bridge!, share: $event! } })" />
                </template>
                <span v-else-if="l.bridge">{{ material(l.bridge.material_id)?.name }}, {{ show("share", l.bridge.share, units) }}</span>
              </td>
              <td class="acts">
                <template v-if="own">
                  <ElButton size="small" :disabled="i === 0" :aria-label="`Move layer ${i + 1} inward`" @click="move(i, -1)">↑</ElButton>
                  <ElButton size="small" :disabled="i === layers.length - 1" :aria-label="`Move layer ${i + 1} outward`" @click="move(i, 1)">↓</ElButton>
                  <ElButton size="small" :disabled="layers.length === 1" :aria-label="`Take layer ${i + 1} out`" @click="change('take layer out', (c) => c.layers!.splice(i, 1))">×</ElButton>
                </template>
              </td>
            </tr>
          </tbody>
        </table>
        <p v-if="own && !shown.u"><ElButton size="small" @click="change('add layer', (c) => c.layers!.push({ material_id: 'mineral-wool-035', thickness_m: 0.1 }))">Add a layer</ElButton></p>
        <form v-if="own && !shown.u" class="material" @submit.prevent="addMaterial">
          <b>Own material</b>
          <label>name <ElInput v-model="wanted.name" size="small" aria-label="Name of the material" maxlength="200" /></label>
          <label>λ <QuantityField v-model="wanted.conductivity" of="Material.conductivity_w_mk" :label="'Conductivity of the material'" :empty="units === 'us' ? 'R-5/in' : 'needed'" /></label>
          <label>density <QuantityField v-model="wanted.density" of="Material.density_kg_m3" label="Density of the material" empty="1000" /></label>
          <ElButton size="small" native-type="submit" :disabled="!wanted.name.trim() || !wanted.conductivity">Add it</ElButton>
        </form>
      </div>
    </div>
    <template #footer><ElButton type="primary" @click="emit('close')">Done</ElButton></template>
  </ElDialog>
</template>

<style scoped>
.editor { display: grid; grid-template-columns: 220px minmax(0, 1fr); gap: 18px; }
figure { margin: 0; }
svg { width: 220px; height: 150px; border-bottom: 1px solid var(--line); }
rect { stroke: var(--keep-out-edge); stroke-width: 0.5; vector-effect: non-scaling-stroke; }
.stud { fill: var(--timber); }
figcaption, .quiet { color: var(--soft); font-size: 13px; }
.u { font-size: 20px; font-weight: 650; margin: 6px 0; }
.side { min-width: 0; overflow-x: auto; }
.name { width: 320px; }
.acts { white-space: nowrap; }
td :deep(.quantity) { width: 64px; }
.grid-table td, .grid-table th { padding-left: 4px; padding-right: 4px; }
.material { display: flex; flex-wrap: wrap; gap: 6px 10px; align-items: center; border-top: 1px solid var(--faint); padding-top: 8px; }
@media (max-width: 900px) { .editor { grid-template-columns: minmax(0, 1fr); } }
td > .choice { width: 158px; }
.acts .el-button { margin: 0 2px 0 0; padding: 4px 7px; }
</style>
