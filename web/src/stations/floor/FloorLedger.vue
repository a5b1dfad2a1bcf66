<script setup lang="ts">
/** Build-up, covering, tube and spacing of every room, and what its floor then does. */
import { computed } from "vue";
import type { Floor, Room, RoomDesign } from "../../api/client";
import * as edit from "../../job/edit";
import * as floors from "../../job/floors";
import { pathOf } from "../../job/paths";
import { store } from "../../job/store";
import ChoiceField from "../../kit/ChoiceField.vue";
import DataTable from "../../kit/DataTable.vue";
import JobField from "../../kit/JobField.vue";
import type { Column } from "../../kit/table";
import { choices, coveringName, tubeName } from "../../products/products";
import { show } from "../../units";
import { PATTERNS } from "../../words";

const { job, design, where, units } = store;
type Row = { room: Room; d?: RoomDesign };
const rows = computed(() => (job.value?.rooms ?? []).map((room): Row => ({ room, d: design.value?.rooms.find((r) => r.id === room.id) })));
const spacings = (f: Floor) => [...new Set([...(job.value?.rules.spacings_m ?? []), f.spacing_core_m, f.spacing_edge_m])].sort((a, b) => a - b).map((s) => ({ value: s, text: show("size", s, units.value) }));
const set = (id: string, values: Partial<Floor>) =>
  store.edit("change floor", (j) => {
    const floor = edit.roomOf(j, id)?.floor;
    if (floor) floors.change(floor, values);
  });
const meets = (d: RoomDesign | undefined) => d !== undefined && d.supplement_w <= 0;
const columns: Column<Row>[] = [
  { key: "room", head: "Room", value: (r) => r.room.name },
  { key: "needs", head: "Needs", value: (r) => r.d?.flux_needed_w_m2, quantity: "flux" },
  { key: "maximum", head: "Maximum", value: (r) => r.d?.flux_limit_w_m2, quantity: "flux" },
  { key: "surface", head: "Surface", value: (r) => r.d?.surface_mean_c, quantity: "temperature", choice: "usual" },
  { key: "limit", head: "Limit", value: (r) => r.d?.surface_limit_c, quantity: "temperature", choice: "extra" },
  { key: "water", head: "Water", value: (r) => r.d?.supply_needed_c, quantity: "temperature" },
  { key: "covering", head: "Covering", value: (r) => coveringName(r.room.floor?.covering_id) },
  { key: "spacing", head: "Spacing", value: (r) => r.room.floor?.spacing_core_m, quantity: "size", num: false },
  { key: "perimeter", head: "Perimeter", value: (r) => r.room.floor?.spacing_edge_m, quantity: "size", num: false, choice: "usual" },
  { key: "buildUp", head: "Build-up", value: (r) => floors.buildUp(r.room.floor?.build_up_id)?.name, choice: "usual" },
  { key: "tube", head: "Tube", value: (r) => tubeName(r.room.floor?.tube_id), choice: "extra" },
  { key: "pattern", head: "Pattern", value: (r) => r.room.floor && PATTERNS[r.room.floor.pattern], choice: "extra" },
  { key: "insulation", head: "Insulation", value: (r) => r.room.floor?.insulation_m2k_w, quantity: "resistance", choice: "extra" },
];
</script>

<template>
  <DataTable
    :id="(r) => r.room.id" name="floors" class="floors" :columns="columns" :rows="rows" :chosen="(r) => where.selection?.id === r.room.id"
    :blank="(r) => (r.room.floor ? undefined : 'not heated by its floor')" empty="No rooms yet." @choose="(r) => store.select({ kind: 'room', id: r.room.id })">
    <template #cell-maximum="{ row: { d } }"><span :class="meets(d) ? 'yes' : 'no'">{{ meets(d) ? "✓" : "✗" }}</span> {{ show("flux", d?.flux_limit_w_m2, units) }}</template>
    <template #cell-covering="{ row: { room } }"><ChoiceField :model-value="room.floor!.covering_id" :options="choices('coverings')" :label="`Covering of ${room.name}`" @update:model-value="set(room.id, { covering_id: $event })" /></template>
    <template #cell-spacing="{ row: { room } }"><ChoiceField class="narrow" :model-value="room.floor!.spacing_core_m" :options="spacings(room.floor!)" :label="`Field spacing of ${room.name}`" @update:model-value="set(room.id, { spacing_core_m: $event })" /></template>
    <template #cell-perimeter="{ row: { room } }"><ChoiceField class="narrow" :model-value="room.floor!.spacing_edge_m" :options="spacings(room.floor!)" :label="`Perimeter spacing of ${room.name}`" @update:model-value="set(room.id, { spacing_edge_m: $event })" /></template>
    <template #cell-buildUp="{ row: { room } }"><ChoiceField :model-value="room.floor!.build_up_id" :options="floors.buildUpsFor('floor').map((b) => ({ value: b.id, text: b.name }))" :label="`Build-up of ${room.name}`" @update:model-value="set(room.id, { build_up_id: $event })" /></template>
    <template #cell-tube="{ row: { room } }"><ChoiceField :model-value="room.floor!.tube_id" :options="choices('tubes')" :label="`Tube of ${room.name}`" @update:model-value="set(room.id, { tube_id: $event })" /></template>
    <template #cell-pattern="{ row: { room } }"><ChoiceField :model-value="room.floor!.pattern" :options="PATTERNS" :label="`Pattern of ${room.name}`" @update:model-value="set(room.id, { pattern: $event as Floor['pattern'] })" /></template>
    <template #cell-insulation="{ row: { room } }"><JobField :path="`${pathOf(job, 'rooms', room.id)}.floor.insulation_m2k_w`" :label="`Insulation under ${room.name}`" empty="as built up" /></template>
  </DataTable>
</template>

<style scoped>
.yes { color: var(--sound); }
.no { color: var(--ember); font-weight: 700; }
</style>
