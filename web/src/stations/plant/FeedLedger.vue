<script setup lang="ts">
/** How each circuit is fed: mixing, pump, control, mains. */
import { computed } from "vue";
import type { CircuitState, Feed, Job, PumpChoice } from "../../api/client";
import { feedOf, feedPath } from "../../job/plant";
import { store } from "../../job/store";
import ChoiceField from "../../kit/ChoiceField.vue";
import DataTable from "../../kit/DataTable.vue";
import JobField from "../../kit/JobField.vue";
import type { Column } from "../../kit/table";
import { CONTROLS, MIXINGS } from "../../words";
import { show } from "../../units";
import { choices } from "../../products/products";
import PumpCurve from "../../products/PumpCurve.vue";

const { job, design, units } = store;
const rows = computed(() => design.value?.plant?.state?.circuits ?? []);
const columns: Column<CircuitState>[] = [
  { key: "name", head: "Circuit", value: (c) => c.name },
  { key: "mixing", head: "Mixing" },
  { key: "pump", head: "Pump" },
  { key: "needs", head: "has to lift", text: (c) => `${show("head", c.pump.design_head_pa, units.value)} at ${show("flow", c.pump.design_flow_l_min, units.value)}` },
  { key: "control", head: "Run at" },
  { key: "held", head: "holds" },
  { key: "mains", head: "Mains, one way" },
  { key: "bore", head: "Bore" },
  { key: "velocity", head: "Velocity", value: (c) => c.mains_m_s, quantity: "velocity" },
  { key: "curve", head: "Curve of its own" },
];
const path = (c: CircuitState) => feedPath(job.value, c.id);
const feed = (c: CircuitState): Feed => job.value?.circuits?.find((x) => x.id === c.id)?.feed ?? job.value?.plant?.users?.find((x) => x.id === c.id)?.feed ?? {};
const pumps = computed(() => choices("pumps"));
const setMixing = (c: CircuitState, to: string) => store.edit("choose the mixing", (j) => (feedOf(j, c.id).mixing = to as Feed["mixing"]));
const setPump = (c: CircuitState, name: string, set: PumpChoice) => store.edit(name, (j) => (feedOf(j, c.id).pump = { ...feedOf(j, c.id).pump, ...set }));
const pumpOf = (id: string) => (j: Job) => (feedOf(j, id).pump ??= {});
const held = (c: CircuitState) => (c.pump.control === "constant_difference" ? "pump.difference_k" : c.pump.control === "fixed_speed" ? "pump.speed" : "pump.head_pa");
const heldKey = (c: CircuitState) => held(c).slice("pump.".length) as "difference_k" | "speed" | "head_pa";
</script>

<template>
  <DataTable :id="(c) => c.id" name="pumps and mixing" :columns="columns" :rows="rows" empty="Nothing takes heat yet.">
    <template #cell-name="{ row: c }">{{ c.name }}</template>
    <template #cell-mixing="{ row: c }"><ChoiceField :model-value="c.mixing" :options="MIXINGS" :label="`Mixing of ${c.name}`" @update:model-value="setMixing(c, $event)" /></template>
    <template #cell-pump="{ row: c }"><ChoiceField :model-value="feed(c).pump?.model_id" :options="pumps" :label="`Pump of ${c.name}`" :empty="feed(c).pump?.curve?.length ? 'typed curve' : `${c.pump.name}`" @update:model-value="setPump(c, 'choose the pump', { model_id: $event })" /></template>
    <template #cell-curve="{ row: c }"><PumpCurve :path="`${path(c)}.pump`" :label="c.name" :of="pumpOf(c.id)" /></template>
    <template #cell-control="{ row: c }"><ChoiceField :model-value="c.pump.control" :options="CONTROLS" :label="`Control of ${c.name}`" @update:model-value="setPump(c, 'choose the control', { control: $event as PumpChoice['control'] })" /></template>
    <template #cell-held="{ row: c }"><JobField :path="`${path(c)}.${held(c)}`" :label="`What the pump of ${c.name} holds`" empty="as designed" :write="(v) => setPump(c, 'set the pump', { [heldKey(c)]: v })" /></template>
    <template #cell-mains="{ row: c }"><JobField :path="`${path(c)}.mains_m`" :label="`Mains of ${c.name}`" :write="(v) => store.edit('set the mains', (j) => void (feedOf(j, c.id).mains_m = v))" /></template>
    <template #cell-bore="{ row: c }"><JobField :path="`${path(c)}.mains_bore_m`" :label="`Bore of the mains of ${c.name}`" :empty="show('size', c.mains_bore_m, units)" :write="(v) => store.edit('set the bore', (j) => void (feedOf(j, c.id).mains_bore_m = v))" /></template>
  </DataTable>
</template>
