<script setup lang="ts">
import Legend from "../../sheet/Legend.vue";
import { useFluxShades } from "./shades";

const { legend } = useFluxShades();
</script>

<template>
  <Legend v-if="legend" label="Heat to be given" :low="legend.low" :high="`${legend.high} of heatable floor`" :colours="legend.colours" wide />
</template>
