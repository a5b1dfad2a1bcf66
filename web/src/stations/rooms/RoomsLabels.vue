<script setup lang="ts">
/** Over the plan, in pixels: lengths of the chosen room's walls, and what is being drawn with its sizes. */
import { computed } from "vue";
import type { Point } from "../../api/client";
import * as edit from "../../job/edit";
import { store } from "../../job/store";
import { useSheet } from "../../sheet/context";
import { show } from "../../units";
import { useChosenRoom } from "./chosen";
import { isOpening, type RoomTools } from "./tools";

const { view: v, box } = useSheet<RoomTools>();
const draw = box.hand;
const { units } = store;
const room = useChosenRoom();

const sizes = computed(() =>
  room.value
    ? edit.walls(room.value).map((w) => ({
        edge: w.edge,
        at: v.toScreen([(w.a[0] + w.b[0]) / 2 - w.out[0] * (16 / v.view.scale), (w.a[1] + w.b[1]) / 2 - w.out[1] * (14 / v.view.scale)]),
        text: show("length", w.length, units.value),
        // along its wall, readable from below or from the right
        turn: ((-Math.atan2(w.along[1], w.along[0]) * 180) / Math.PI + 450) % 180 - 90,
      }))
    : [],
);
const rectangle = computed(() => {
  const { start, end, pointer } = draw;
  if (!start || !pointer) return null;
  const b = end ?? pointer;
  return {
    points: (end ? edit.lShape(start, end, pointer) : edit.rectangle(start, pointer)).map((p) => v.toScreen(p).join()).join(" "),
    at: v.toScreen([(start[0] + b[0]) / 2, (start[1] + b[1]) / 2]),
    text: `${show("length", Math.abs(b[0] - start[0]), units.value)} × ${show("length", Math.abs(b[1] - start[1]), units.value)}`,
  };
});
const hovered = computed(() => {
  const { near } = draw;
  if (!near) return null;
  const half = isOpening(draw.tool) ? draw.width / 2 : 0.25;
  const at = (s: number): Point => v.toScreen([near.wall.a[0] + near.wall.along[0] * s, near.wall.a[1] + near.wall.along[1] * s]);
  return { a: at(near.along - half), b: at(near.along + half) };
});
/** Corners of a shape being drawn, a cut, the points of a picture, with what the pointer would add. */
const trail = computed(() => {
  const { tool, marks, pointer, cut } = draw;
  const picture = tool.startsWith("picture");
  let points: Point[] = [];
  if (cut) {
    const end = box.cutEnd();
    points = [box.onWall(cut), ...(end ? [end] : [])];
  } else if (marks.length) points = pointer && !(picture && marks.length === 2) ? [...marks, pointer] : marks;
  if (points.length === 0) return null;
  const [a, b] = points.slice(-2) as [Point, Point | undefined];
  const screen = points.map(v.toScreen);
  return {
    dots: screen.slice(0, cut ? 2 : marks.length),
    line: screen.map((p) => p.join()).join(" "),
    closed: tool === "polygon" && marks.length > 1,
    at: b ? v.toScreen([(a[0] + b[0]) / 2, (a[1] + b[1]) / 2]) : screen[0]!,
    text: b && !picture ? show("length", Math.hypot(b[0] - a[0], b[1] - a[1]), units.value) : "",
  };
});
const guides = computed(() => ({
  x: draw.guides.x === null ? null : v.toScreen([draw.guides.x, 0])[0],
  y: draw.guides.y === null ? null : v.toScreen([0, draw.guides.y])[1],
}));
</script>

<template>
  <g v-for="s in sizes" :key="s.edge"><text class="size" :transform="`translate(${s.at[0]} ${s.at[1]}) rotate(${s.turn})`" dy="4">{{ s.text }}</text></g>
  <g v-if="rectangle" class="preview">
    <polygon :points="rectangle.points" />
    <text :x="rectangle.at[0]" :y="rectangle.at[1]">{{ rectangle.text }}</text>
  </g>
  <g v-if="trail" class="preview">
    <polygon v-if="trail.closed" :points="trail.line" />
    <polyline :points="trail.line" />
    <circle v-for="(p, i) in trail.dots" :key="i" :cx="p[0]" :cy="p[1]" r="4" />
    <text :x="trail.at[0]" :y="trail.at[1] - 6">{{ trail.text }}</text>
  </g>
  <line v-if="hovered" class="hovered" :x1="hovered.a[0]" :y1="hovered.a[1]" :x2="hovered.b[0]" :y2="hovered.b[1]" />
  <g class="guides">
    <line v-if="guides.x !== null" :x1="guides.x" :x2="guides.x" y1="0" :y2="v.view.height" />
    <line v-if="guides.y !== null" :y1="guides.y" :y2="guides.y" x1="0" :x2="v.view.width" />
  </g>
</template>

<style scoped>
.size { fill: var(--ember); font-weight: 600; }
.preview polygon { fill: rgb(168 62 18 / 12%); stroke: var(--ember); stroke-width: 1.5; }
.preview polyline { fill: none; stroke: var(--ember); stroke-width: 1.8; }
.preview circle { fill: var(--sheet); stroke: var(--ember); stroke-width: 2; }
.preview text { font-weight: 650; fill: var(--ember); }
.hovered { stroke: var(--ember); stroke-width: 7; opacity: 0.6; }
.guides line { stroke: var(--ember); stroke-dasharray: 3 4; opacity: 0.6; }
</style>
