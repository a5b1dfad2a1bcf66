<script setup lang="ts">
/** Build-up, covering, tube and spacing of every room, and what its floor then does. */
import { computed } from "vue";
import type { Floor, RoomDesign } from "../api/client";
import Quantity from "../components/Quantity.vue";
import { PATTERNS } from "../components/words";
import * as edit from "../job/edit";
import * as floors from "../job/floors";
import { store } from "../job/store";
import { show } from "../units";

const { job, design, library, state, units } = store;
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
const value = (e: Event) => (e.target as HTMLSelectElement).value;
const carries = (d: RoomDesign | undefined) => d !== undefined && d.supplement_w <= 0;
</script>

<template>
  <div class="scroll" tabindex="0" role="region" aria-label="Table of floors">
    <table class="grid-table">
      <thead>
        <tr><th>Room</th><th class="num">Needs</th><th class="num">Maximum</th><th class="num">Surface</th><th class="num">Limit</th><th class="num">Water</th><th>Covering</th><th>Spacing</th><th>Perimeter</th><th>Build-up</th><th>Tube</th><th>Pattern</th><th class="num">Insulation</th></tr>
      </thead>
      <tbody>
        <tr v-for="{ room, d } in rooms" :key="room.id" :class="{ chosen: state.selection?.id === room.id }" @focusin="store.select({ kind: 'room', id: room.id })">
          <td><button class="plain link">{{ room.name }}</button></td>
          <template v-if="room.floor">
            <td class="num">{{ show("flux", d?.flux_needed_w_m2, units) }}</td>
            <td class="num"><span :class="carries(d) ? 'yes' : 'no'">{{ carries(d) ? "✓" : "✗" }}</span> {{ show("flux", d?.flux_limit_w_m2, units) }}</td>
            <td class="num">{{ show("temperature", d?.surface_mean_c, units) }}</td>
            <td class="num">{{ show("temperature", d?.surface_limit_c, units) }}</td>
            <td class="num">{{ show("temperature", d?.supply_needed_c, units) }}</td>
            <td><select :value="room.floor.covering_id" :aria-label="`Covering of ${room.name}`" @change="set(room.id, { covering_id: value($event) })"><option v-for="c in library?.coverings" :key="c.id" :value="c.id">{{ c.name }}</option></select></td>
            <td><select :value="room.floor.spacing_core_m" :aria-label="`Field spacing of ${room.name}`" @change="set(room.id, { spacing_core_m: Number(value($event)) })"><option v-for="s in spacings(room.floor)" :key="s" :value="s">{{ show("size", s, units) }}</option></select></td>
            <td><select :value="room.floor.spacing_edge_m" :aria-label="`Perimeter spacing of ${room.name}`" @change="set(room.id, { spacing_edge_m: Number(value($event)) })"><option v-for="s in spacings(room.floor)" :key="s" :value="s">{{ show("size", s, units) }}</option></select></td>
            <td><select :value="room.floor.build_up_id" :aria-label="`Build-up of ${room.name}`" @change="set(room.id, { build_up_id: value($event) })"><option v-for="b in floors.buildUpsFor('floor')" :key="b.id" :value="b.id">{{ b.name }}</option></select></td>
            <td><select :value="room.floor.tube_id" :aria-label="`Tube of ${room.name}`" @change="set(room.id, { tube_id: value($event) })"><option v-for="t in library?.tubes" :key="t.id" :value="t.id">{{ t.name }}</option></select></td>
            <td><select :value="room.floor.pattern" :aria-label="`Pattern of ${room.name}`" @change="set(room.id, { pattern: value($event) as Floor['pattern'] })"><option v-for="(word, p) in PATTERNS" :key="p" :value="p">{{ word }}</option></select></td>
            <td class="num"><Quantity :model-value="room.floor.insulation_m2k_w" quantity="resistance" :label="`Insulation under ${room.name}`" :min="0" :max="20" empty="as built up" @update:model-value="set(room.id, { insulation_m2k_w: $event })" /></td>
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
td select { max-width: 132px; }
</style>
