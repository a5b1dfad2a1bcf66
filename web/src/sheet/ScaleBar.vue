<script setup lang="ts">
/** A bar of a round length at the foot of the sheet. */
import { computed } from "vue";
import { store } from "../job/store";
import type { View } from "./view";

const props = defineProps<{ view: View }>();
const FOOT_M = 0.3048;
const bar = computed(() => {
  const us = store.units.value === "us";
  const { scale } = props.view.view;
  const lengths = us ? [1, 2, 5, 10, 20, 50].map((f) => f * FOOT_M) : [0.5, 1, 2, 5, 10, 20];
  const length = lengths.find((o) => o * scale > 60) ?? lengths.at(-1)!;
  return { px: length * scale, text: us ? `${Math.round(length / FOOT_M)} ft` : `${length} m` };
});
</script>

<template>
  <g class="scale" :transform="`translate(14 ${view.view.height - 14})`">
    <path :d="`M0-5V0H${bar.px}V-5`" /><text x="4" y="-8">{{ bar.text }}</text>
  </g>
</template>

<style scoped>
.scale { pointer-events: none; }
path { fill: none; stroke: var(--ink); }
text { font-size: 11px; fill: var(--ink); }
</style>
