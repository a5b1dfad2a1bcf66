<script setup lang="ts">
/** Rooms of the storey below, to draw the next one over them; in metres. */
import { store } from "../../job/store";

const rooms = store.roomsBelow;
</script>

<template>
  <polygon v-for="r in rooms" :key="r.id" class="ghost" :points="r.outline.map((p) => p.join()).join(' ')" />
</template>

<style scoped>
.ghost { fill: none; stroke: var(--shade); stroke-width: 1; stroke-dasharray: 3 4; vector-effect: non-scaling-stroke; pointer-events: none; }
</style>
