<script setup lang="ts">
/** Build-up, covering, tube and spacing of every room, and what its floor then does. */
import { computed } from "vue";
import type { Floor, RoomDesign } from "../../api/client";
import QuantityField from "../../kit/QuantityField.vue";
import { PATTERNS } from "../../words";
import * as edit from "../../job/edit";
import * as floors from "../../job/floors";
import { store } from "../../job/store";
import ColumnChoice from "../../kit/ColumnChoice.vue";
import { useColumns } from "../../kit/columns";
import { show } from "../../units";
import ChoiceField from "../../kit/ChoiceField.vue";

const { job, design, library, where, units } = store;
const rooms = computed(() => (job.value?.rooms ?? []).map((room) => ({ room, d: design.value?.rooms.find((r) => r.id === room.id) })));
const spacings = (f: Floor) => [...new Set([...(job.value?.rules.spacings_m ?? []), f.spacing_core_m, f.spacing_edge_m])].sort((a, b) => a - b);
const set = (id: string, values: Partial<Floor>) =>
  store.edit("change floor", (j) => {
    const floor = edit.roomOf(j, id)?.floor;
    if (!floor) return;
    Object.assign(floor, values);
    if (floor.spacing_edge_m > floor.spacing_core_m) {
      if (values.spacing_edge_m !== undefined) floor.spacing_core_m = floor.spacing_edge_m;
      else floor.spacing_edge_m = floor.spacing_core_m;
    }
  });
const columns = useColumns("floors", { surface: "Surface", limit: "Limit of the surface", edge: "Perimeter spacing", buildUp: "Build-up", tube: "Tube", pattern: "Pattern", insulation: "Insulation" }, ["surface", "edge", "buildUp"]);
const carries = (d: RoomDesign | undefined) => d !== undefined && d.supplement_w <= 0;
</script>

<template>
  <div class="choice-of"><ColumnChoice v-model="columns.shown" :names="columns.names" /></div>
  <div class="scroll" tabindex="0" role="region" aria-label="Table of floors">
    <table class="grid-table">
      <thead>
        <tr><th>Room</th><th class="num">Needs</th><th class="num">Maximum</th><th v-if="columns.has('surface')" class="num">Surface</th><th v-if="columns.has('limit')" class="num">Limit</th><th class="num">Water</th><th>Covering</th><th>Spacing</th><th v-if="columns.has('edge')">Perimeter</th><th v-if="columns.has('buildUp')">Build-up</th><th v-if="columns.has('tube')">Tube</th><th v-if="columns.has('pattern')">Pattern</th><th v-if="columns.has('insulation')" class="num">Insulation</th></tr>
      </thead>
      <tbody>
        <tr v-for="{ room, d } in rooms" :key="room.id" :class="{ chosen: where.selection?.id === room.id }" @focusin="store.select({ kind: 'room', id: room.id })">
          <td><ElButton link type="primary">{{ room.name }}</ElButton></td>
          <template v-if="room.floor">
            <td class="num">{{ show("flux", d?.flux_needed_w_m2, units) }}</td>
            <td class="num"><span :class="carries(d) ? 'yes' : 'no'">{{ carries(d) ? "✓" : "✗" }}</span> {{ show("flux", d?.flux_limit_w_m2, units) }}</td>
            <td v-if="columns.has('surface')" class="num">{{ show("temperature", d?.surface_mean_c, units) }}</td>
            <td v-if="columns.has('limit')" class="num">{{ show("temperature", d?.surface_limit_c, units) }}</td>
            <td class="num">{{ show("temperature", d?.supply_needed_c, units) }}</td>
            <td><ChoiceField :model-value="room.floor.covering_id" :options="(library?.coverings ?? []).map((c) => ({ value: c.id, text: c.name }))" :label="`Covering of ${room.name}`" @update:model-value="set(room.id, { covering_id: $event })" /></td>
            <td><ChoiceField class="narrow" :model-value="room.floor.spacing_core_m" :options="spacings(room.floor).map((s) => ({ value: s, text: show('size', s, units) }))" :label="`Field spacing of ${room.name}`" @update:model-value="set(room.id, { spacing_core_m: $event })" /></td>
            <td v-if="columns.has('edge')"><ChoiceField class="narrow" :model-value="room.floor.spacing_edge_m" :options="spacings(room.floor).map((s) => ({ value: s, text: show('size', s, units) }))" :label="`Perimeter spacing of ${room.name}`" @update:model-value="set(room.id, { spacing_edge_m: $event })" /></td>
            <td v-if="columns.has('buildUp')"><ChoiceField :model-value="room.floor.build_up_id" :options="floors.buildUpsFor('floor').map((b) => ({ value: b.id, text: b.name }))" :label="`Build-up of ${room.name}`" @update:model-value="set(room.id, { build_up_id: $event })" /></td>
            <td v-if="columns.has('tube')"><ChoiceField :model-value="room.floor.tube_id" :options="(library?.tubes ?? []).map((t) => ({ value: t.id, text: t.name }))" :label="`Tube of ${room.name}`" @update:model-value="set(room.id, { tube_id: $event })" /></td>
            <td v-if="columns.has('pattern')"><ChoiceField :model-value="room.floor.pattern" :options="PATTERNS" :label="`Pattern of ${room.name}`" @update:model-value="set(room.id, { pattern: $event as Floor['pattern'] })" /></td>
            <td v-if="columns.has('insulation')" class="num"><QuantityField :model-value="room.floor.insulation_m2k_w" quantity="resistance" :label="`Insulation under ${room.name}`" :min="0" :max="20" empty="as built up" @update:model-value="set(room.id, { insulation_m2k_w: $event })" /></td>
          </template>
          <td v-else colspan="12" class="none">not heated by its floor</td>
        </tr>
      </tbody>
    </table>
    <p v-if="!rooms.length" class="none">No rooms yet.</p>
  </div>
</template>

<style scoped>
.scroll { overflow: auto; flex: 1; min-height: 0; }
.none { color: var(--soft); padding: 4px 8px; }
.yes { color: var(--sound); }
.no { color: var(--ember); font-weight: 700; }
td > .choice { width: 118px; min-width: 0; }
td :deep(.quantity.el-input) { width: 84px; }
.choice-of { position: absolute; right: 130px; top: 0; }
@media (max-width: 900px) { .choice-of { position: static; text-align: right; } }
td > .choice[class*='narrow'] { width: 78px; }
</style>
