<script setup lang="ts">
import Legend from "../../sheet/Legend.vue";
import { useSurfaceShades } from "./shades";

const { legend } = useSurfaceShades();
</script>

<template>
  <Legend v-if="legend" label="Surface" :low="legend.low" :high="`${legend.high} surface`" :colours="legend.colours" wide />
</template>
