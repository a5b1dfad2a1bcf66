<script setup lang="ts">
/** Every loop: how long it is, how it is laid, what it gives. */
import { store } from "../../job/store";
import type { Column } from "../../kit/table";
import CircuitTable from "./CircuitTable.vue";
import type { CircuitRow } from "./circuits";
import ManifoldPlaces from "./ManifoldPlaces.vue";
import { tubeName } from "../../products/products";

const { job } = store;
const figures: Column<CircuitRow>[] = [
  { key: "length", head: "Length", value: (r) => r.loop?.length_m ?? r.field?.of.tube_m, quantity: "tube" },
  { key: "limit", head: "of the limit", value: (r) => r.loop && r.loop.length_m / r.loop.limit_m, quantity: "share" },
  { key: "leaders", head: "Leaders", value: (r) => r.loop?.leader_length_m, quantity: "tube" },
  { key: "spacing", head: "Spacing", value: (r) => r.loop?.spacing_m, quantity: "size" },
  { key: "tube", head: "Tube", value: (r) => tubeName(r.loop?.tube_id ?? r.field?.tube) },
  { key: "up", head: "Heat up", value: (r) => r.loop?.output_up_w ?? r.field?.of.heat_w, quantity: "heat" },
  { key: "down", head: "Heat down", value: (r) => r.loop?.output_down_w ?? r.field?.of.back_w, quantity: "heat" },
];
</script>

<template>
  <CircuitTable :figures="figures">
    <ManifoldPlaces v-if="job?.rooms.length && !job.manifolds.length" />
  </CircuitTable>
</template>
