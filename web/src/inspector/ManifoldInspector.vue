<script setup lang="ts">
/** A manifold: its letter, its ports, where it hangs, where its tubes go through floors. */
import { computed } from "vue";
import type { Manifold } from "../api/client";
import * as edit from "../job/edit";
import { pathOf } from "../job/paths";
import { store } from "../job/store";
import JobField from "../kit/JobField.vue";
import TextField from "../kit/TextField.vue";
import LayoutRemedies from "../stations/loops/LayoutRemedies.vue";
import ManifoldPlaces from "../stations/loops/ManifoldPlaces.vue";
import Risers from "../stations/loops/Risers.vue";
import { roomName } from "./chosen";
import ValveTable from "./ValveTable.vue";

const { job } = store;
const manifold = computed(() => job.value?.manifolds.find((m) => m.id === store.where.selection?.id));
const at = computed(() => pathOf(job.value, "manifolds", store.where.selection?.id));
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
      <dt>Port pairs</dt><dd><JobField :path="`${at}.ports`" label="Port pairs" /></dd>
      <dt>From the {{ start }} corner</dt><dd><JobField :path="`${at}.offset_m`" label="Distance from the corner" /></dd>
    </dl>
    <Risers :manifold="manifold" />
    <ValveTable :manifold="manifold" />
    <ManifoldPlaces :manifold-id="manifold.id" />
    <LayoutRemedies />
  </template>
</template>
