<script setup lang="ts">
/** Rooms in summer: who and what is in them, what they want, what their floor takes, whether it is shut. */
import { computed } from "vue";
import type { Room, Summer } from "../../api/client";
import { roomOf } from "../../job/edit";
import { store } from "../../job/store";
import ChoiceField from "../../kit/ChoiceField.vue";
import DataTable from "../../kit/DataTable.vue";
import QuantityField from "../../kit/QuantityField.vue";
import type { Column } from "../../kit/table";
import { SHUT_FOR } from "../../words";
import { useCooling, usualSummer } from "./summer";

const { job, design, where } = store;
const { answer: cool } = useCooling();
const rooms = computed(() => (job.value?.cooling ? job.value.rooms.filter((r) => !r.unheated) : []));
const found = (r: Room) => cool.value?.rooms.find((c) => c.id === r.id);
const area = (r: Room) => design.value?.rooms.find((d) => d.id === r.id)?.area_m2 ?? 0;
const of = (r: Room): Summer => r.summer ?? usualSummer(r.use, area(r));
const set = (r: Room, what: string, values: Partial<Summer>) => {
  const now = of(r);
  store.edit(what, (j) => (roomOf(j, r.id)!.summer = { ...now, ...values }));
};
const columns: Column<Room>[] = [
  { key: "name", head: "Room", value: (r) => r.name },
  { key: "people", head: "People", value: (r) => of(r).people, quantity: "factor" },
  { key: "equipment", head: "Lights, equipment", value: (r) => of(r).equipment_w, quantity: "power" },
  { key: "from", head: "from, h", value: (r) => of(r).from_h, quantity: "count", choice: "usual" },
  { key: "to", head: "to, h", value: (r) => of(r).to_h, quantity: "count", choice: "usual" },
  { key: "peak", head: "Wants", value: (r) => found(r)?.peak_w, quantity: "heat" },
  { key: "floor", head: "Floor takes", value: (r) => found(r)?.floor_w, quantity: "heat" },
  { key: "share", head: "of the year", value: (r) => found(r)?.share, quantity: "share" },
  { key: "dew", head: "Dew point", value: (r) => found(r)?.dew_point_c, quantity: "temperature" },
  { key: "stands", head: "Floor stands", value: (r) => found(r)?.floor_stands_c, quantity: "temperature", choice: "usual" },
  { key: "coolest", head: "Coolest line", value: (r) => found(r)?.coolest_c, quantity: "temperature", choice: "extra" },
  { key: "flow", head: "Flow", value: (r) => found(r)?.flow_l_min, quantity: "flow" },
  { key: "winter", head: "in winter", value: (r) => found(r)?.winter_l_min, quantity: "flow", choice: "extra" },
  { key: "shut", head: "Loops in summer", value: (r) => (found(r)?.shut ? SHUT_FOR[found(r)!.shut!] : "open") },
];
const SHUT = { open: "open", shut: "shut" };
</script>

<template>
  <DataTable :id="(r) => r.id" name="summer" :columns="columns" :rows="rooms" :chosen="(r) => where.selection?.id === r.id" empty="No rooms are cooled." @choose="(r) => store.select({ kind: 'room', id: r.id })">
    <template #cell-people="{ row: r }"><QuantityField :model-value="of(r).people" of="Summer.people" :label="`People in ${r.name}`" @update:model-value="set(r, 'change the people', { people: $event! })" /></template>
    <template #cell-equipment="{ row: r }"><QuantityField :model-value="of(r).equipment_w" of="Summer.equipment_w" :label="`Equipment in ${r.name}`" @update:model-value="set(r, 'change the equipment', { equipment_w: $event! })" /></template>
    <template #cell-from="{ row: r }"><QuantityField :model-value="of(r).from_h" of="Summer.from_h" :label="`In use from, ${r.name}`" :max="of(r).to_h - 1" @update:model-value="set(r, 'change the hours', { from_h: Math.round($event!) })" /></template>
    <template #cell-to="{ row: r }"><QuantityField :model-value="of(r).to_h" of="Summer.to_h" :label="`In use to, ${r.name}`" :min="of(r).from_h + 1" @update:model-value="set(r, 'change the hours', { to_h: Math.round($event!) })" /></template>
    <template #cell-shut="{ row: r }">
      <ChoiceField v-if="r.floor" :model-value="r.summer?.shut === undefined || r.summer.shut === null ? undefined : r.summer.shut ? 'shut' : 'open'" :options="SHUT" :label="`Loops of ${r.name} in summer`" :empty="found(r)?.shut ? `shut: ${SHUT_FOR[found(r)!.shut!]}` : 'open'" @update:model-value="set(r, 'change the loops in summer', { shut: $event ? $event === 'shut' : undefined })" />
      <span v-else>no tube</span>
    </template>
  </DataTable>
</template>
