<script setup lang="ts">
/** Over the rooms, in metres: loops by how far they are, and what happened to them where it is. */
import { computed } from "vue";
import type { Point } from "../../api/client";
import { store } from "../../job/store";
import { useLog } from "./log";
import { HARMS, LAY_STEPS, MENDS } from "../../words";

const { levelDesign: design, level } = store;
const { log } = useLog();
const steps = computed(() => new Map(log.value?.loops.map((l) => [l.loop_id, l.step])));
const pins = computed(() => (log.value?.harms ?? []).filter((h) => h.position && h.level_id === level.value?.id));
const views = computed(() => (log.value?.pins ?? []).filter((p) => p.spot.level_id === level.value?.id));
const line = (points: Point[]) => points.map((p) => p.join(",")).join(" ");
</script>

<template>
  <g class="laid">
    <polyline v-for="l in design?.loops ?? []" :key="l.id" :points="line(l.path as Point[])" :class="steps.get(l.id) ?? 'not_started'" data-kind="loop" :data-id="l.id"><title>{{ l.tag }}: {{ LAY_STEPS[steps.get(l.id) ?? "not_started"] }}</title></polyline>
    <g v-for="h in pins" :key="h.record_id" class="pin" :class="{ open: h.harm.mend === 'no' }" :transform="`translate(${h.position![0]} ${h.position![1]})`"><path d="M-.09-.09L.09.09M-.09.09L.09-.09" /><circle r="0.16" /><title>{{ HARMS[h.harm.harm] }} on {{ h.tag }}, {{ MENDS[h.harm.mend] }}</title></g>
    <g v-for="v in views" :key="v.record_id" class="view" :transform="`translate(${v.spot.at[0]} ${v.spot.at[1]})`"><path v-if="v.spot.facing_deg != null" d="M0 0L.7-.32L.7.32Z" :transform="`rotate(${v.spot.facing_deg})`" /><rect x="-.14" y="-.14" width=".28" height=".28" /><title>{{ v.note || "Photo" }}{{ v.photos?.length ? `, ${v.photos.length} photo${v.photos.length > 1 ? "s" : ""}` : "" }}</title></g>
  </g>
</template>

<style scoped>
polyline { fill: none; stroke: var(--sound); stroke-width: 3; vector-effect: non-scaling-stroke; stroke-linejoin: round; }
.not_started { stroke: var(--off); stroke-width: 1.4; stroke-dasharray: 3 5; }
.on_floor { stroke: var(--warn); stroke-dasharray: 12 4; }
.fixed { stroke-width: 2; }
.pin path { stroke: var(--ink); stroke-width: 2.4; vector-effect: non-scaling-stroke; fill: none; }
.pin circle { fill: none; stroke: var(--ink); stroke-width: 1.6; vector-effect: non-scaling-stroke; }
.view path { fill: var(--glass); fill-opacity: 0.25; stroke: var(--glass); stroke-width: 1; vector-effect: non-scaling-stroke; }
.view rect { fill: var(--sheet); stroke: var(--glass); stroke-width: 1.8; vector-effect: non-scaling-stroke; }
.pin.open path, .pin.open circle { stroke: var(--ember); }
</style>
