<script setup lang="ts">
/** Over the rooms, in metres: the loops, faintly, and the corners of the chosen room. */
import { store } from "../../job/store";
import { useSheet } from "../../sheet/context";
import PlanLoops from "../../sheet/PlanLoops.vue";
import { useChosenRoom } from "./chosen";

const { view: v } = useSheet();
const { levelDesign: design, where } = store;
const room = useChosenRoom();
</script>

<template>
  <PlanLoops v-if="design" :design="design" :selection="where.selection" faded />
  <g v-if="room">
    <circle v-for="(p, i) in room.outline" :key="i" class="corner" :cx="p[0]" :cy="p[1]" :r="6 / v.view.scale" data-kind="corner" :data-id="room.id" :data-corner="i" />
  </g>
</template>

<style scoped>
.corner { fill: var(--sheet); stroke: var(--ember); stroke-width: 2; vector-effect: non-scaling-stroke; cursor: move; }
</style>
