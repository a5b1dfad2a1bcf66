<script setup lang="ts">
/** A place that gets no tube: its size, and where it is, by distances that a tape gives. */
import { computed } from "vue";
import * as edit from "../job/edit";
import ChoiceField from "../kit/ChoiceField.vue";
import PhotoField from "../kit/PhotoField.vue";
import JobField from "../kit/JobField.vue";
import QuantityField from "../kit/QuantityField.vue";
import TextField from "../kit/TextField.vue";
import { KEEP_OUTS } from "../words";
import { useHeld } from "./chosen";

const { room, thing: keepOut, at, set } = useHeld("keep_outs", "keep-out");
const corner = computed(() => {
  const points = room.value?.outline ?? [];
  return { x: Math.min(...points.map((p) => p[0])), y: Math.min(...points.map((p) => p[1])) };
});
const width = computed(() => keepOut.value!.x1_m - keepOut.value!.x0_m);
const depth = computed(() => keepOut.value!.y1_m - keepOut.value!.y0_m);
const placeX = (from: number) => set({ x0_m: edit.clean(corner.value.x + from), x1_m: edit.clean(corner.value.x + from + width.value) });
const placeY = (from: number) => set({ y0_m: edit.clean(corner.value.y + from), y1_m: edit.clean(corner.value.y + from + depth.value) });
</script>

<template>
  <template v-if="keepOut && room">
    <h2>{{ KEEP_OUTS[keepOut.kind] }}, {{ room.name }}</h2>
    <dl class="facts">
      <dt>Name</dt><dd><TextField :model-value="keepOut.name" label="Keep-out name" @update:model-value="set({ name: $event })" /></dd>
      <dt>Kind</dt><dd><ChoiceField :model-value="keepOut.kind" :options="KEEP_OUTS" label="Kind of keep-out" @update:model-value="set({ kind: $event })" /></dd>
      <dt>Width</dt><dd><QuantityField :model-value="width" quantity="length" label="Keep-out width" :min="0.01" :max="100" @update:model-value="set({ x1_m: edit.clean(keepOut!.x0_m + $event!) })" /></dd>
      <dt>Depth</dt><dd><QuantityField :model-value="depth" quantity="length" label="Keep-out depth" :min="0.01" :max="100" @update:model-value="set({ y1_m: edit.clean(keepOut!.y0_m + $event!) })" /></dd>
      <dt>From the room's left wall</dt><dd><QuantityField :model-value="keepOut.x0_m - corner.x" quantity="length" label="Distance from the left wall" :min="-1" :max="200" @update:model-value="placeX($event!)" /></dd>
      <dt>From its lower wall</dt><dd><QuantityField :model-value="keepOut.y0_m - corner.y" quantity="length" label="Distance from the lower wall" :min="-1" :max="200" @update:model-value="placeY($event!)" /></dd>
      <dt>Tube stays off</dt><dd><JobField :path="`${at}.clearance_m`" label="Clearance" /></dd>
      <dt>Photo</dt><dd><PhotoField :model-value="keepOut.photo_id" label="Photo of the keep-out" @update:model-value="set({ photo_id: $event })" /></dd>
    </dl>
  </template>
</template>
