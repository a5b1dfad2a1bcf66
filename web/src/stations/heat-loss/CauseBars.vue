<script setup lang="ts">
/** A bar of causes under each room's figures, all to one scale; in pixels. */
import { computed } from "vue";
import type { Point, RoomDesign } from "../../api/client";
import { heatBy, type Cause } from "../../job/loss";
import { store } from "../../job/store";
import { useSheet } from "../../sheet/context";
import { breadth, labelPlace, LINES_FROM_PX } from "../../sheet/places";
import { CAUSES, CAUSE_TINTS } from "../../words";

const LONGEST_PX = 110;
const { view: v } = useSheet();
const { levelJob: job, design } = store;
const lossesOf = (r: RoomDesign) => (Object.keys(CAUSES) as Cause[]).map((cause) => ({ cause, w: Math.max(0, heatBy(r, cause)) })).filter((p) => p.w > 0);
const bars = computed(() => {
  const rooms = design.value?.rooms ?? [];
  const most = Math.max(1, ...rooms.map((r) => lossesOf(r).reduce((sum, p) => sum + p.w, 0)));
  return (job.value?.rooms ?? []).flatMap((room) => {
    const d = rooms.find((r) => r.id === room.id);
    if (!d?.heated || v.view.scale * breadth(room.outline) <= LINES_FROM_PX) return [];
    let x = 0;
    const parts = lossesOf(d).map((p) => {
      const width = (p.w / most) * LONGEST_PX;
      return { cause: p.cause, x: (x += width) - width, width };
    });
    const [left, top] = v.toScreen(labelPlace(room.outline));
    return [{ id: room.id, at: [left - x / 2, top - 25] as Point, parts }];
  });
});
</script>

<template>
  <g v-for="b in bars" :key="b.id" :transform="`translate(${b.at[0]} ${b.at[1]})`">
    <rect v-for="p in b.parts" :key="p.cause" :x="p.x" y="0" :width="p.width" height="8" :fill="CAUSE_TINTS[p.cause]" />
  </g>
</template>

<style scoped>
rect { stroke: var(--floor); stroke-width: 0.7; }
</style>
