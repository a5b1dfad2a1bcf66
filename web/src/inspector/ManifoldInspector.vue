<script setup lang="ts">
/** A manifold: its letter, its ports, where it hangs, where its tubes go through floors. */
import { computed } from "vue";
import type { Manifold } from "../api/client";
import * as edit from "../job/edit";
import { store } from "../job/store";
import QuantityField from "../kit/QuantityField.vue";
import TextField from "../kit/TextField.vue";
import LayoutRemedies from "../stations/loops/LayoutRemedies.vue";
import ManifoldPlaces from "../stations/loops/ManifoldPlaces.vue";
import Risers from "../stations/loops/Risers.vue";
import { roomName } from "./chosen";

const { job } = store;
const manifold = computed(() => job.value?.manifolds.find((m) => m.id === store.where.selection?.id));
const start = computed(() => {
  const room = job.value?.rooms.find((r) => r.id === manifold.value?.room_id);
  const wall = room && edit.walls(room)[manifold.value!.edge];
  return wall ? edit.startName(wall, job.value?.site.north_deg) : "";
});
const set = (values: Partial<Manifold>) => store.edit("change manifold", (j) => Object.assign(j.manifolds.find((m) => m.id === manifold.value!.id)!, values));
</script>

<template>
  <template v-if="manifold">
    <h2>Manifold {{ manifold.letter }}, {{ roomName(manifold.room_id) }}</h2>
    <dl class="facts">
      <dt>Letter</dt><dd><TextField :model-value="manifold.letter" label="Manifold letter" :max="3" required @update:model-value="set({ letter: $event })" /></dd>
      <dt>Port pairs</dt><dd><QuantityField :model-value="manifold.ports" quantity="count" label="Port pairs" :min="1" :max="24" @update:model-value="set({ ports: Math.round($event!) })" /></dd>
      <dt>From the {{ start }} corner</dt><dd><QuantityField :model-value="manifold.offset_m" quantity="length" label="Distance from the corner" :min="0" :max="200" @update:model-value="set({ offset_m: $event! })" /></dd>
    </dl>
    <Risers :manifold="manifold" />
    <ManifoldPlaces :manifold-id="manifold.id" />
    <LayoutRemedies />
  </template>
</template>
