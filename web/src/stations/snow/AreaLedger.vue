<script setup lang="ts">
/** Areas: use, class, what may lie, fall. */
import { computed } from "vue";
import type { Room } from "../../api/client";
import { meltOf, setMelt, setMeltUse } from "../../job/melt";
import { store } from "../../job/store";
import ChoiceField from "../../kit/ChoiceField.vue";
import DataTable from "../../kit/DataTable.vue";
import QuantityField from "../../kit/QuantityField.vue";
import type { Column } from "../../kit/table";
import { MELT_USES } from "../../words";

const { job, design, where } = store;
const rooms = computed(() => (job.value?.rooms ?? []).filter((r) => r.floor));
const found = (r: Room) => design.value?.outdoors?.areas.find((a) => a.id === r.id);
const columns: Column<Room>[] = [
  { key: "name", head: "Area", value: (r) => r.name },
  { key: "use", head: "Use", value: (r) => MELT_USES[meltOf(r).use] },
  { key: "free", head: "Free of snow", value: (r) => meltOf(r).free_area_ratio, quantity: "share" },
  { key: "lies", head: "May lie, as water", value: (r) => meltOf(r).may_lie_mm, quantity: "snow" },
  { key: "slope", head: "Fall", value: (r) => meltOf(r).slope, quantity: "share" },
  { key: "m2", head: "With tube", value: (r) => found(r)?.heated_m2, quantity: "area" },
  { key: "takes", head: "Takes", value: (r) => found(r)?.load.total, quantity: "flux" },
  { key: "gets", head: "Gets", value: (r) => found(r)?.flux_w_m2, quantity: "flux" },
];
const set = (id: string, what: string, values: Parameters<typeof setMelt>[2]) => store.edit(what, (j) => setMelt(j, id, values));
</script>

<template>
  <DataTable :id="(r) => r.id" name="areas" :columns="columns" :rows="rooms" :chosen="(r) => where.selection?.id === r.id" empty="No areas with tube yet." @choose="(r) => store.select({ kind: 'room', id: r.id })">
    <template #cell-use="{ row: r }"><ChoiceField :model-value="meltOf(r).use" :options="MELT_USES" :label="`Use of ${r.name}`" @update:model-value="store.edit('change use', (j) => setMeltUse(j, r.id, $event as never))" /></template>
    <template #cell-free="{ row: r }"><QuantityField :model-value="meltOf(r).free_area_ratio" of="Melt.free_area_ratio" :label="`Free part of ${r.name}`" @update:model-value="set(r.id, 'change the class', { free_area_ratio: $event! })" /></template>
    <template #cell-lies="{ row: r }"><QuantityField :model-value="meltOf(r).may_lie_mm" of="Melt.may_lie_mm" :label="`Snow that may lie on ${r.name}`" @update:model-value="set(r.id, 'change what may lie', { may_lie_mm: $event! })" /></template>
    <template #cell-slope="{ row: r }"><QuantityField :model-value="meltOf(r).slope" of="Melt.slope" :label="`Fall of ${r.name}`" @update:model-value="set(r.id, 'change the fall', { slope: $event! })" /></template>
  </DataTable>
</template>
