<script setup lang="ts">
/** Over the rooms, in metres: the loops, the picture on the floor, and what can be gripped: corners and the keyed run of the chosen loop, ends of splits, a loop being drawn. */
import { computed } from "vue";
import type { Point } from "../../api/client";
import { store } from "../../job/store";
import { useSheet } from "../../sheet/context";
import Isotherms from "../../sheet/Isotherms.vue";
import PlanLoops from "../../sheet/PlanLoops.vue";
import FloorPicture from "./FloorPicture.vue";
import { paint, rangeOf } from "./floorMap";
import type { LoopTools } from "./tools";

const { view: v, box } = useSheet<LoopTools>();
const hand = box.hand;
const scale = computed(() => v.view.scale);
const range = computed(() => (box.map.map && hand.picture !== "none" && store.job.value ? rangeOf(box.map.map, hand.picture, store.job.value.rules.surface_limit_c) : null));
const picture = computed(() => (range.value && hand.picture !== "none" ? paint(box.map.map!, hand.picture, range.value) : ""));
const { where, levelJob: job, levelDesign: design } = store;
/** Corners so close together that one could not be told from the next are left to zooming in. */
const APART_PX = 14;

const chosen = computed(() => {
  const s = where.selection;
  const l = s?.kind === "loop" ? design.value?.loops.find((l) => l.id === s.id) : undefined;
  if (!l) return null;
  const corners = l.corners as Point[];
  const far = (i: number) => [i - 1, i + 1].every((k) => !corners[k] || Math.hypot(corners[k]![0] - corners[i]![0], corners[k]![1] - corners[i]![1]) * scale.value > APART_PX);
  const grips = corners.map((at, index) => ({ at, index })).filter((c) => c.index > 0 && c.index < corners.length - 1 && far(c.index));
  return { id: l.id, grips, run: hand.run >= 0 ? corners.slice(hand.run, hand.run + 2) : [] };
});
const splits = computed(() => (job.value?.rooms ?? []).flatMap((r) => (r.floor?.splits ?? []).map((ends, index) => ({ id: r.id, index, ends: ends as [Point, Point] }))));
const drawn = computed(() => (hand.marks.length ? [...hand.marks, ...(hand.pointer ? [hand.pointer] : [])] : []));
const line = (points: Point[]) => points.map((p) => p.join()).join(" ");
</script>

<template>
  <FloorPicture v-if="picture && box.map.map" :map="box.map.map" :picture="picture" />
  <Isotherms v-if="range && hand.picture === 'surface' && box.map.map" :raster="box.map.map" :values="box.map.map.surface_c" :range="range" />
  <PlanLoops v-if="design" :design="design" :selection="where.selection" :faded="picture !== ''" />
  <g v-for="s in splits" :key="`${s.id}${s.index}`" class="split">
    <line :x1="s.ends[0][0]" :y1="s.ends[0][1]" :x2="s.ends[1][0]" :y2="s.ends[1][1]" />
    <circle v-for="(p, end) in s.ends" :key="end" :cx="p[0]" :cy="p[1]" :r="6 / scale" data-kind="split-end" :data-id="s.id" :data-index="s.index" :data-end="end" />
  </g>
  <g v-if="chosen" class="grips">
    <polyline v-if="chosen.run.length" class="run" :points="line(chosen.run)" />
    <circle v-for="c in chosen.grips" :key="c.index" :cx="c.at[0]" :cy="c.at[1]" :r="4 / scale" data-kind="loop-corner" :data-id="chosen.id" :data-index="c.index" />
  </g>
  <g v-if="drawn.length" class="drawing">
    <polyline :points="line(drawn)" />
    <circle v-for="(p, i) in hand.marks" :key="i" :cx="p[0]" :cy="p[1]" :r="4 / scale" />
  </g>
</template>

<style scoped>
circle { fill: var(--sheet); stroke: var(--ember); stroke-width: 1.6; vector-effect: non-scaling-stroke; cursor: move; }
line, polyline { fill: none; vector-effect: non-scaling-stroke; pointer-events: none; }
.run { stroke: var(--ember); stroke-width: 6; opacity: 0.45; }
.split line { stroke: var(--ink); stroke-width: 2; stroke-dasharray: 8 5; }
.drawing polyline { stroke: var(--ember); stroke-width: 2.4; }
.drawing circle { pointer-events: none; }
</style>
