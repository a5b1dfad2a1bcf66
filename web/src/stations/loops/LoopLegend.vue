<script setup lang="ts">
/** What the colours of the sheet mean: of the picture on the floor, or of the water. */
import { computed } from "vue";
import { store } from "../../job/store";
import { useSheet } from "../../sheet/context";
import Legend from "../../sheet/Legend.vue";
import WaterLegend from "../../sheet/WaterLegend.vue";
import { show } from "../../units";
import { ramp, rangeOf } from "./floorMap";
import type { LoopTools } from "./tools";

const { box } = useSheet<LoopTools>();
const { job, units } = store;
const STEPS = 10;
const key = computed(() => {
  const of = box.hand.picture;
  if (of === "none" || !box.map.map || !job.value) return null;
  const [low, high] = rangeOf(box.map.map, of, job.value.rules.surface_limit_c);
  const quantity = of === "distance" ? "size" : "temperature";
  return {
    label: of === "distance" ? "Distance from the nearest tube" : "Surface of the floor",
    low: show(quantity, low, units.value),
    high: `${show(quantity, high, units.value)} ${of === "distance" ? "from the nearest tube" : "surface of the floor"}`,
    colours: Array.from({ length: STEPS }, (_, i) => `rgb(${ramp(of, (i + 0.5) / STEPS).join(" ")})`),
  };
});
</script>

<template>
  <WaterLegend v-if="box.hand.picture === 'none'" />
  <Legend v-else-if="key" v-bind="key" />
  <div v-else-if="box.map.problem" class="legend" role="alert">{{ box.map.problem }}</div>
</template>
