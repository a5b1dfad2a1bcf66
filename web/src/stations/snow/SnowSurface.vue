<script setup lang="ts">
/** An area as it looks from above: snow where it lies in patches, wet where it is free, ice where it froze again. */
import { computed, useId } from "vue";
import type { StormRun } from "../../api/client";
import { store } from "../../job/store";

const props = defineProps<{ step: StormRun["ways"][number]["steps"][number]; areaId: string }>();
const id = useId();
const outline = computed(() => store.job.value?.rooms.find((r) => r.id === props.areaId)?.outline ?? []);
const box = computed(() => {
  const xs = outline.value.map((p) => p[0]!);
  const ys = outline.value.map((p) => p[1]!);
  return { x: Math.min(...xs), y: Math.min(...ys), w: Math.max(0.1, Math.max(...xs) - Math.min(...xs)), h: Math.max(0.1, Math.max(...ys) - Math.min(...ys)) };
});
const W = 200;
const H = computed(() => Math.min(110, Math.max(40, (W * box.value.h) / box.value.w)));
const scale = computed(() => Math.min(W / box.value.w, H.value / box.value.h));
const points = computed(() => outline.value.map((p) => `${(p[0]! - box.value.x) * scale.value},${H.value - (p[1]! - box.value.y) * scale.value}`).join(" "));
/** Patches at fixed places: each is there as long as more of the surface is covered than its rank says. */
const PATCHES = Array.from({ length: 60 }, (_, k) => ({ x: ((k * 73) % 60) / 60, y: ((k * 37) % 60) / 60, r: 7 + ((k * 29) % 7), rank: (((k * 17) % 60) + 0.5) / 60 }));
const shown = computed(() => PATCHES.filter((p) => p.rank < 1 - props.step.free));
const iced = computed(() => props.step.ice_mm > 0.02);
</script>

<template>
  <svg :viewBox="`0 0 ${W} ${H}`" aria-hidden="true">
    <defs><clipPath :id="id"><polygon :points="points" /></clipPath></defs>
    <polygon :points="points" :class="['ground', { iced }]" />
    <g :clip-path="`url(#${id})`">
      <rect v-if="step.free < 0.02" class="snow" x="0" y="0" :width="W" :height="H" />
      <circle v-for="(p, k) in shown" v-else :key="k" class="snow" :cx="p.x * W" :cy="p.y * H" :r="p.r" />
    </g>
    <polygon :points="points" class="edge" />
  </svg>
</template>

<style scoped>
svg { width: 100%; height: 86px; display: block; }
.ground { fill: #7c7f80; }
.iced { fill: #9cc3d6; }
.snow { fill: #fdfdfd; }
.edge { fill: none; stroke: var(--ink); stroke-width: 1; }
</style>
