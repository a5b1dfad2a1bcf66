<script setup lang="ts">
/** Loops coloured by the temperature of their water; the way back has a broken edge, arrows show the direction. */
import { computed } from "vue";
import type { Design } from "../api/client";
import type { Selection } from "../job/store";
import { arrows, onScreen, stretches, waterRange } from "./water";

const props = defineProps<{ design: Design; selection: Selection | null; faded?: boolean }>();

const drawn = computed(() => {
  const [cool, hot] = waterRange(props.design.loops);
  return props.design.loops.map((l) => ({ id: l.id, tag: l.tag, stretches: stretches(l, cool, hot), arrows: arrows(l) }));
});
/** Holes through joists, on the rooms that are shown. */
const holes = computed(() => {
  const shown = new Set(props.design.loops.flatMap((l) => l.room_ids));
  return props.design.rooms.filter((r) => shown.has(r.id)).flatMap((r) => r.joist_holes ?? []);
});
const chosen = computed(() => (props.selection?.kind === "loop" ? props.selection.id : null));
</script>

<template>
  <g class="loops" :class="{ faded }">
    <g v-for="l in drawn" :key="l.id" class="loop" :class="{ chosen: chosen === l.id, other: chosen !== null && chosen !== l.id }" data-kind="loop" :data-id="l.id">
      <template v-for="(s, i) in l.stretches" :key="i">
        <polyline class="tube" :points="s.points" :style="{ stroke: onScreen(s.colour) }" data-kind="loop" :data-id="l.id" />
        <polyline v-if="s.back" class="broken" :points="s.points" />
      </template>
      <path v-for="(a, i) in l.arrows" :key="`a${i}`" class="arrow" d="M.09 0L-.07.065L-.07-.065Z" :transform="`translate(${a.at[0]} ${a.at[1]}) rotate(${a.heading})`" />
    </g>
    <circle v-for="(p, i) in holes" :key="`h${i}`" class="hole" :cx="p[0]" :cy="p[1]" r="0.025" />
  </g>
</template>

<style>
.loops .tube { fill: none; stroke-width: 2.4; vector-effect: non-scaling-stroke; stroke-linejoin: round; }
.loops .broken { fill: none; stroke: var(--floor); stroke-width: 0.9; stroke-dasharray: 5 4; vector-effect: non-scaling-stroke; pointer-events: none; }
.loops .hole { fill: var(--sheet); stroke: var(--ink); stroke-width: 1; vector-effect: non-scaling-stroke; pointer-events: none; }
.loops .arrow { fill: var(--ink); pointer-events: none; }
.loops.faded { opacity: 0.35; }
.loops .loop.other { opacity: 0.3; }
.loops .loop.chosen .tube { stroke-width: 4; }
</style>
