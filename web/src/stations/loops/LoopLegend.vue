<script setup lang="ts">
/** What the colours of the sheet mean: of the picture on the floor, or of the water. */
import { computed } from "vue";
import { store } from "../../job/store";
import { useSheet } from "../../sheet/context";
import Legend from "../../sheet/Legend.vue";
import { placeOf, useProbe } from "../../sheet/probe";
import { colours } from "../../sheet/ramp";
import WaterLegend from "../../sheet/WaterLegend.vue";
import { show } from "../../units";
import { rangeOf } from "./floorMap";
import type { LoopTools } from "./tools";

const { box, view } = useSheet<LoopTools>();
const { job, units } = store;
const probe = useProbe(view);
/** What the picture says where the pointer is. */
const here = computed(() => {
  const { map } = box.map;
  const of = box.hand.picture;
  const place = map && placeOf(map, probe.value);
  const value = place === null || !map || of === "none" ? null : (of === "distance" ? map.distance_m : map.surface_c)[place];
  return value === null || value === undefined ? "" : show(of === "distance" ? "size" : "temperature", value, units.value);
});
const key = computed(() => {
  const of = box.hand.picture;
  if (of === "none" || !box.map.map || !job.value) return null;
  const [low, high] = rangeOf(box.map.map, of, job.value.rules.surface_limit_c);
  const quantity = of === "distance" ? "size" : "temperature";
  return {
    label: of === "distance" ? "Distance from the nearest tube" : "Surface of the floor",
    low: show(quantity, low, units.value),
    high: `${show(quantity, high, units.value)} ${of === "distance" ? "from the nearest tube" : "surface of the floor"}`,
    colours: colours(of),
  };
});
</script>

<template>
  <WaterLegend v-if="box.hand.picture === 'none'" />
  <Legend v-else-if="key" v-bind="key"><b v-if="here" class="here">here {{ here }}</b></Legend>
  <div v-else-if="box.map.problem" class="legend" role="alert">{{ box.map.problem }}</div>
</template>

<style scoped>
.here { min-width: 88px; }
</style>
