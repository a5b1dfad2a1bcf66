<script setup lang="ts">
/** A map of the floor as a picture on the plan, in metres. */
import type { RoomMap } from "../../api/client";

defineProps<{ map: RoomMap; picture: string }>();
</script>

<template>
  <image
    class="map" :href="picture" :width="map.columns * map.step_m" :height="map.rows * map.step_m" preserveAspectRatio="none"
    :transform="`translate(${map.origin[0]} ${map.origin[1]! + map.rows * map.step_m}) scale(1 -1)`" />
</template>

<style scoped>
.map { image-rendering: pixelated; pointer-events: none; }
</style>
