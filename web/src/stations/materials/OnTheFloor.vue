<script setup lang="ts">
/** Over the rooms, in metres: loops, grooved panels, plates, holes in joists, loops under saw cuts. */
import { computed } from "vue";
import { store } from "../../job/store";
import PlanLoops from "../../sheet/PlanLoops.vue";
import { useMaterials } from "./counted";

const { levelDesign: design, where, level, job } = store;
const { answer: counted } = useMaterials();
const onLevel = computed(() => new Set(job.value?.rooms.filter((r) => r.level_id === level.value?.id).map((r) => r.id)));
const loops = computed(() => new Set(design.value?.loops.map((l) => l.id)));
const panels = computed(() => (counted.value?.panels ?? []).filter((p) => onLevel.value.has(p.room_id)).flatMap((p) => p.panels));
const plates = computed(() => (counted.value?.plates ?? []).filter((p) => loops.value.has(p.loop_id)));
const holes = computed(() => (counted.value?.joists ?? []).filter((j) => onLevel.value.has(j.room_id)).flatMap((j) => j.holes));
const cuts = computed(() => (counted.value?.saw_cuts ?? []).filter((c) => loops.value.has(c.loop_id)));
const corners = (points: number[][]) => points.map((p) => p.join(",")).join(" ");
</script>

<template>
  <g class="on-the-floor">
    <polygon v-for="(p, i) in panels" :key="`p${i}`" :points="corners(p.corners)" class="panel" :class="[p.kind, { cut: p.cut_m }]"><title>{{ p.kind === "plain" ? "plain board" : `${p.kind} panel` }}{{ p.cut_m ? ", cut" : "" }}{{ p.from_rest ? ", offcut of the row before" : "" }}</title></polygon>
    <PlanLoops v-if="design" :design="design" :selection="where.selection" />
    <line v-for="(p, i) in plates" :key="`t${i}`" :x1="p.ends[0]![0]" :y1="p.ends[0]![1]" :x2="p.ends[1]![0]" :y2="p.ends[1]![1]" class="plate" :class="{ cut: p.cut }"><title>plate {{ p.number }} from the return end{{ p.cut ? ", cut" : "" }}</title></line>
    <circle v-for="(h, i) in holes" :key="`h${i}`" :cx="h.at[0]" :cy="h.at[1]" r="0.05" class="hole" :class="{ near: h.near_end }"><title>hole{{ h.near_end ? " near the joist's end" : "" }}</title></circle>
    <circle v-for="(c, i) in cuts" :key="`c${i}`" :cx="c.at[0]" :cy="c.at[1]" r="0.07" class="cut-at" :class="{ shallow: c.too_shallow }"><title>under a saw cut{{ c.too_shallow ? ", too near to it" : "" }}</title></circle>
  </g>
</template>

<style scoped>
.panel { fill: none; stroke: var(--ink); stroke-width: 0.01; stroke-opacity: 0.6; }
.panel.return { fill: var(--ember); fill-opacity: 0.12; }
.panel.plain { fill: var(--faint); }
.panel.cut { stroke-dasharray: 0.06 0.04; }
.plate { stroke: var(--ink); stroke-width: 0.1; stroke-opacity: 0.28; }
.plate.cut { stroke: var(--ember); stroke-opacity: 0.45; }
.hole { fill: var(--sheet); stroke: var(--ink); stroke-width: 0.015; }
.hole.near { stroke: var(--ember); stroke-width: 0.03; }
.cut-at { fill: var(--sheet); stroke: var(--ink); stroke-width: 0.025; }
.cut-at.shallow { stroke: var(--ember); }
</style>
