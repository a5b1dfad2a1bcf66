<script setup lang="ts">
/** Every circuit and user as the water meets them: what it needs and what it gets; switched on and off for a trial. */
import { reorder } from "../../job/plant";
import { store } from "../../job/store";
import type { CircuitState } from "../../api/client";
import DataTable from "../../kit/DataTable.vue";
import type { Column } from "../../kit/table";
import { show } from "../../units";
import { isOn, turn, usePlantState } from "./trial";

const { units } = store;
const { state, old } = usePlantState();
const columns: Column<CircuitState>[] = [
  { key: "place", head: "" },
  { key: "name", head: "Circuit", value: (c) => c.name },
  { key: "on", head: "On" },
  { key: "needs", head: "Needs", value: (c) => c.needs_c, quantity: "temperature", title: "Supply temperature that it needs at this outdoor temperature" },
  { key: "supply", head: "Supply", value: (c) => c.supply_c, quantity: "temperature" },
  { key: "return", head: "Return", value: (c) => c.return_c, quantity: "temperature" },
  { key: "flow", head: "Flow", value: (c) => c.flow_l_min, quantity: "flow" },
  { key: "heat", head: "Heat", value: (c) => c.heat_w, quantity: "heat" },
  { key: "wants", head: "wanted", value: (c) => c.wants_w, quantity: "heat", choice: "extra" },
  { key: "hot", head: "Hot water", value: (c) => c.hot_share, quantity: "share", title: "Share of hot water in its supply" },
  { key: "authority", head: "Authority", value: (c) => c.authority, quantity: "share", choice: "extra", title: "Share of its mixing valve in what takes pressure where its flow changes" },
  { key: "pump", head: "Pump", value: (c) => c.pump.name, text: (c) => (c.on ? `${c.pump.name}: ${show("head", c.pump.head_pa, units.value)}` : c.pump.name) },
  { key: "power", head: "Power", value: (c) => c.pump.electric_w, quantity: "power", choice: "extra" },
];
const ids = () => state.value?.circuits.map((c) => c.id) ?? [];
const move = (c: CircuitState, by: number) => store.edit("change the order", (j) => reorder(j, ids(), c.id, ids().indexOf(c.id) + by));
</script>

<template>
  <div class="table" :class="{ old }">
  <DataTable :id="(c) => c.id" name="circuits of the plant" :columns="columns" :rows="state?.circuits ?? []" empty="Nothing takes heat yet.">
    <template #cell-place="{ row: c }">
      <ElButton link size="small" :aria-label="`${c.name} earlier`" :disabled="ids()[0] === c.id" @click="move(c, -1)">◀</ElButton><ElButton link size="small" :aria-label="`${c.name} later`" :disabled="ids().at(-1) === c.id" @click="move(c, 1)">▶</ElButton>
    </template>
    <template #cell-on="{ row: c }"><ElSwitch size="small" :model-value="isOn(c.id)" :aria-label="`${c.name} on`" @update:model-value="turn(c.id, Boolean($event))" /></template>
  </DataTable>
  </div>
</template>

<style scoped>
.table { display: flex; flex-direction: column; flex: 1; min-height: 0; }
</style>
