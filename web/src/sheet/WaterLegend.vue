<script setup lang="ts">
/** Temperatures of the water by colour, supply and return by their edge. */
import { computed } from "vue";
import { store } from "../job/store";
import { show } from "../units";
import Legend from "./Legend.vue";
import { onScreen, waterColour, waterRange } from "./water";

const { levelDesign: design, units } = store;
const range = computed(() => waterRange(design.value?.loops ?? []));
const STEPS = 12;
const colours = Array.from({ length: STEPS }, (_, i) => onScreen(waterColour((i + 0.5) / STEPS)));
</script>

<template>
  <Legend v-if="design?.loops.length" label="Water temperatures" :low="show('temperature', range[0], units)" :high="show('temperature', range[1], units)" :colours="colours">
    <span class="way"><b></b> supply</span><span class="way back"><b></b> return</span>
  </Legend>
</template>

<style scoped>
.way { display: inline-flex; align-items: center; gap: 5px; }
.way b { width: 24px; height: 3px; background: var(--ink); }
.way.back b { background: repeating-linear-gradient(90deg, var(--ink) 0 5px, transparent 5px 9px); }
</style>
