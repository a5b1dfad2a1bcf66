<script setup lang="ts">
/** Parts of a floor under another covering or a rug; tube in walls and ceiling. */
import { computed } from "vue";
import type { Field, Patch } from "../../api/client";
import JobField from "../../kit/JobField.vue";
import { wallName, walls, roomOf } from "../../job/edit";
import * as floors from "../../job/floors";
import { pathOf } from "../../job/paths";
import { store } from "../../job/store";
import { usual } from "../../job/usual";
import { dialect, show } from "../../units";
import ChoiceField from "../../kit/ChoiceField.vue";
import { choices } from "../../products/products";

const props = defineProps<{ roomId: string }>();
const { job, library, design, units } = store;
const s = (q: Parameters<typeof show>[0], v: number | null | undefined) => show(q, v, units.value);
const room = computed(() => job.value?.rooms.find((r) => r.id === props.roomId));
const at = computed(() => pathOf(job.value, "rooms", props.roomId));
const d = computed(() => design.value?.rooms.find((r) => r.id === props.roomId));
const patches = computed(() => room.value?.floor?.patches ?? []);
const fields = computed(() => room.value?.fields ?? []);
const edges = computed(() => (room.value ? walls(room.value) : []));

const setPatch = (i: number, set: Partial<Patch>) =>
  store.edit("change a patch", (j) => {
    const patch = roomOf(j, props.roomId)?.floor?.patches?.[i];
    if (patch) Object.assign(patch, set);
  });
const addPatch = () =>
  store.edit("add a patch", (j) => {
    const floor = roomOf(j, props.roomId)?.floor;
    if (floor) floor.patches = [...(floor.patches ?? []), { ...usual()!.patch }];
  });
const dropPatch = (i: number) => store.edit("take a patch away", (j) => void roomOf(j, props.roomId)?.floor?.patches?.splice(i, 1));
const setField = (i: number, set: Partial<Field>) =>
  store.edit("change a field", (j) => {
    const field = roomOf(j, props.roomId)?.fields?.[i];
    if (field) Object.assign(field, set);
  });
function placeField(i: number, edge: string) {
  const to = edge === "" ? undefined : Number(edge);
  const was = fields.value[i]?.edge;
  // another build-up where the place is another kind
  const other = (to === undefined) !== (was === undefined || was === null);
  const usually = to === undefined ? usual()!.ceiling_field : usual()!.wall_field;
  setField(i, { edge: to, ...(other ? { build_up_id: usually.build_up_id } : {}) });
}
const dropField = (i: number) => store.edit("take a field away", (j) => void roomOf(j, props.roomId)?.fields?.splice(i, 1));
const face = (f: Field) => (f.edge === undefined || f.edge === null ? "ceiling" : "wall");
</script>

<template>
  <div v-if="room" class="parts" tabindex="0" role="region" aria-label="Patches and fields">
    <template v-if="room.floor">
      <h2>Patches of the floor</h2>
      <p class="soft">Parts of the heated floor under another covering, or under a rug. They share the floor's water.</p>
      <table v-if="patches.length" class="grid-table">
        <thead><tr><th>Patch</th><th class="num">Area</th><th>Covering</th><th>Rug</th><th class="num">Gives</th><th class="num">Surface</th><th class="num">Under the rug</th><th></th></tr></thead>
        <tbody>
          <tr v-for="(patch, i) in patches" :key="i">
            <td>{{ i + 1 }}</td>
            <td class="num"><JobField :path="`${at}.floor.patches[${i}].area_m2`" :label="`Area of patch ${i + 1}`" /></td>
            <td><ChoiceField :model-value="patch.covering_id" :options="choices('coverings')" :label="`Covering of patch ${i + 1}`" empty="as the room" @update:model-value="setPatch(i, { covering_id: $event })" /></td>
            <td><ChoiceField :model-value="patch.rug_m2k_w" :options="(library?.rugs ?? []).map((r) => ({ value: r.resistance_m2k_w, text: `${r.name}, ${s('resistance', r.resistance_m2k_w)}` }))" :label="`Rug of patch ${i + 1}`" empty="none" @update:model-value="setPatch(i, { rug_m2k_w: $event })" /></td>
            <td class="num">{{ s("flux", d?.floor?.patches[i]?.flux_w_m2) }}</td>
            <td class="num">{{ s("temperature", d?.floor?.patches[i]?.surface_mean_c) }}</td>
            <td class="num">{{ patch.rug_m2k_w ? s("temperature", d?.floor?.patches[i]?.covering_c) : "" }}</td>
            <td><ElButton link type="primary" :aria-label="`Take patch ${i + 1} away`" @click="dropPatch(i)">Delete</ElButton></td>
          </tr>
        </tbody>
      </table>
      <ElButton size="small" :disabled="patches.length >= 10" @click="addPatch">Add a patch</ElButton>
    </template>
    <h2>Fields in walls and ceiling</h2>
    <p class="soft">Tube in the low part of a wall, or in the ceiling, beside the floor or in its place. Plaster and plasterboard stand only so much water: the verdict says when it is too hot. Leaders and ports are an estimate until they are drawn.</p>
    <table v-if="fields.length" class="grid-table">
      <thead><tr><th>Place</th><th class="num">Width</th><th class="num">Height</th><th>{{ dialect("Build-up", units) }}</th><th>Tube</th><th>Spacing</th><th class="num">Gives</th><th class="num">Surface</th><th class="num">Tube laid</th><th class="num">Circuits</th><th></th></tr></thead>
      <tbody>
        <tr v-for="(f, i) in fields" :key="f.id">
          <td><ChoiceField :model-value="String(f.edge ?? '')" :options="edges.map((w) => ({ value: String(w.edge), text: wallName(w, job?.site.north_deg) }))" :label="`Place of field ${i + 1}`" empty="ceiling" @update:model-value="placeField(i, $event)" /></td>
          <td class="num"><JobField :path="`${at}.fields[${i}].width_m`" :label="`Width of field ${i + 1}`" /></td>
          <td class="num"><JobField :path="`${at}.fields[${i}].height_m`" :label="`Height of field ${i + 1}`" /></td>
          <td><ChoiceField :model-value="f.build_up_id" :options="floors.buildUpsFor(face(f)).map((b) => ({ value: b.id, text: b.name }))" :label="`Build-up of field ${i + 1}`" @update:model-value="setField(i, { build_up_id: $event })" /></td>
          <td><ChoiceField :model-value="f.tube_id" :options="choices('tubes')" :label="`Tube of field ${i + 1}`" @update:model-value="setField(i, { tube_id: $event })" /></td>
          <td><ChoiceField :model-value="f.spacing_m" :options="([...new Set([...(job?.rules.spacings_m ?? []), f.spacing_m])].sort((a, b) => a - b) ?? []).map((x) => ({ value: x, text: s('size', x) }))" :label="`Spacing of field ${i + 1}`" @update:model-value="setField(i, { spacing_m: $event })" /></td>
          <td class="num">{{ s("heat", d?.fields[i]?.heat_w) }}</td>
          <td class="num" :title="`Limit ${s('temperature', d?.fields[i]?.surface_limit_c)}`">{{ s("temperature", d?.fields[i]?.surface_mean_c) }}</td>
          <td class="num">{{ s("tube", d?.fields[i]?.tube_m) }}</td>
          <td class="num" :title="`${s('flow', d?.fields[i]?.flow_l_min)}, ${s('head', d?.fields[i]?.head_loss_pa)}`">{{ d?.fields[i]?.circuits }} × {{ s("tube", d?.fields[i]?.circuit_m) }}</td>
          <td><ElButton link type="primary" :aria-label="`Take field ${i + 1} away`" @click="dropField(i)">Delete</ElButton></td>
        </tr>
      </tbody>
    </table>
    <ElButton size="small" @click="floors.addField(roomId, edges[0]?.edge ?? 0)">Add a wall field</ElButton>
    <ElButton size="small" @click="floors.addField(roomId, undefined)">Add a ceiling field</ElButton>
  </div>
</template>

<style scoped>
.parts { overflow: auto; padding: 4px 12px 10px; flex: 1; min-height: 0; }
h2 { font-size: 15px; margin: 8px 0 0; }
.soft { color: var(--soft); font-size: 13px; margin: 2px 0 6px; max-width: 90ch; }
td :deep(.quantity) { width: 74px; }
td > .choice { width: 150px; }
</style>
