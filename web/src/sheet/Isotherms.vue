<script setup lang="ts">
/** Lines of equal temperature over a picture of the floor, in metres. */
import { computed } from "vue";
import { isoline, levels, type Raster } from "./isolines";

const props = defineProps<{ raster: Raster; values: ArrayLike<number | null | undefined>; range: [number, number] }>();
const lines = computed(() => levels(...props.range).map((level) => ({ level, path: isoline(props.raster, props.values, level) })));
</script>

<template>
  <g class="isotherms">
    <path v-for="l in lines" :key="l.level" :d="l.path" />
  </g>
</template>

<style scoped>
.isotherms path { fill: none; stroke: var(--ink); stroke-width: 0.8; stroke-opacity: 0.55; vector-effect: non-scaling-stroke; pointer-events: none; }
</style>
