<script setup lang="ts">
/** Where in its loop the crew is: what lies, the run at hand, what comes, within the rooms. */
import { computed } from "vue";
import type { LoopDesign, Point } from "../../api/client";
import { store } from "../../job/store";
import { between } from "./path";
import { around } from "./place";

const props = defineProps<{ loop: LoopDesign; from: number; along: number }>();
const path = computed(() => props.loop.path as Point[]);
/** The tube between manifold and riser is in no plan. */
const riser = computed(() => (props.loop.riser_m ?? 0) / 2);
const text = (points: Point[]) => points.map((p) => `${p[0]},${-p[1]}`).join(" ");
const rooms = computed(() => {
  const level = store.job.value?.rooms.find((r) => r.id === props.loop.room_ids[0])?.level_id;
  return (store.job.value?.rooms ?? []).filter((r) => r.level_id === level);
});
const box = computed(() => around(path.value));
const lies = computed(() => between(path.value, 0, props.from - riser.value));
const now = computed(() => between(path.value, props.from - riser.value, props.along - riser.value));
const end = computed(() => now.value.at(-1) ?? path.value[0]!);
</script>

<template>
  <svg class="map" :viewBox="`${box.x} ${box.y} ${box.width} ${box.height}`" role="img" :aria-label="`Loop ${loop.tag}: what lies, and the run at hand`">
    <polygon v-for="r in rooms" :key="r.id" :points="text(r.outline)" class="room" />
    <polyline :points="text(path)" class="all" />
    <polyline :points="text(lies)" class="lies" />
    <polyline :points="text(now)" class="now" />
    <circle :cx="path[0]![0]" :cy="-path[0]![1]" :r="box.width / 90" class="port" />
    <circle :cx="end[0]" :cy="-end[1]" :r="box.width / 60" class="end" />
  </svg>
</template>

<style scoped>
.map { width: 100%; max-height: min(38vh, 340px); background: var(--floor-bare); border: 1px solid var(--line); border-radius: 4px; }
.room { fill: var(--floor); stroke: var(--mass); stroke-width: 0.05; }
polyline { fill: none; vector-effect: non-scaling-stroke; stroke-linejoin: round; }
.all { stroke: var(--off); stroke-width: 1.5; stroke-dasharray: 4 4; }
.lies { stroke: var(--ink); stroke-width: 2.4; }
.now { stroke: var(--ember); stroke-width: 6; }
.port { fill: var(--ink); }
.end { fill: var(--ember); stroke: var(--sheet); stroke-width: 2; vector-effect: non-scaling-stroke; }
</style>
