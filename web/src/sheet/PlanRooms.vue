<script setup lang="ts">
/** Rooms as the plan shows them, in metres: floor, keep-outs, walls by what is behind them, openings, manifolds. */
import { computed } from "vue";
import type { Design, Job, Opening, Point, Room } from "../api/client";
import { area, walls } from "../job/edit";
import { joists } from "../job/floors";
import type { Selection } from "../job/store";

const props = defineProps<{
  job: Job;
  design: Design | null;
  selection: Selection | null;
  /** Shade of a room's floor, by id. */
  shades?: Record<string, string>;
  /** What hovering over a room says, by id. */
  titles?: Record<string, string>;
}>();

const text = (points: Point[]) => points.map((p) => p.join(",")).join(" ");
const chosen = (kind: string, id: string) => props.selection?.kind === kind && props.selection.id === id;

function ends(room: Room, o: Opening): [Point, Point] | null {
  const wall = walls(room)[o.edge];
  if (!wall) return null;
  const at = (s: number): Point => [wall.a[0] + wall.along[0] * s, wall.a[1] + wall.along[1] * s];
  return [at(o.offset_m), at(o.offset_m + o.width_m)];
}

const allOpenings = computed(() =>
  props.job.rooms.flatMap((room) =>
    room.openings.flatMap((o) => {
      const e = ends(room, o);
      return e ? [{ ...o, room: room.id, a: e[0], b: e[1] }] : [];
    }),
  ),
);
const openings = computed(() => allOpenings.value.filter((o) => o.kind !== "roof_window"));
/** Overhead: drawn a step in from the wall below. */
const STEP_IN_M = 0.3;
const roofWindows = computed(() =>
  allOpenings.value
    .filter((o) => o.kind === "roof_window")
    .map((o) => {
      const length = Math.hypot(o.b[0] - o.a[0], o.b[1] - o.a[1]) || 1;
      const turn = area(props.job.rooms.find((r) => r.id === o.room)!.outline) < 0 ? -1 : 1;
      const inward: Point = [(-(o.b[1] - o.a[1]) / length) * turn, ((o.b[0] - o.a[0]) / length) * turn];
      const at = ([x, y]: Point, by: number): Point => [x + inward[0] * by, y + inward[1] * by];
      return { ...o, corners: [at(o.a, STEP_IN_M), at(o.b, STEP_IN_M), at(o.b, STEP_IN_M + o.height_m), at(o.a, STEP_IN_M + o.height_m)] };
    }),
);
/** Walls in their thickness: what is left of the outer outline round each room. */
const masses = computed(() => {
  const drawn = new Set(props.job.rooms.map((r) => r.id));
  return (props.design?.outlines ?? []).filter((o) => drawn.has(o.room_id) && o.outer.length > 2);
});
const marks = computed(() => props.job.marks ?? []);
const outside = computed(() => (props.design?.walls ?? []).filter((w) => w.beyond === "outside"));
/** Manifolds, and the places where their tubes come through this level's floor. */
const manifolds = computed(() =>
  (props.design?.manifolds ?? []).flatMap((m) => {
    const body = (place: Point, inward: Point, loops: number) => {
      const [[x, y], [ix, iy]] = [place, inward];
      const half = Math.max(0.2, loops * 0.05);
      const at = (s: number, d: number): Point => [x + iy * s + ix * d, y - ix * s + iy * d];
      return [at(-half, 0), at(half, 0), at(half, 0.09), at(-half, 0.09)];
    };
    const here = new Set(props.job.rooms.map((r) => r.level_id));
    const hung = m.position && m.inward && here.has(m.level_id) ? [{ key: m.id, id: m.id, riser: false, body: body(m.position as Point, m.inward as Point, m.ports_used - m.risers.reduce((a, r) => a + r.loops, 0)) }] : [];
    const risers = m.risers.filter((r) => here.has(r.level_id)).map((r, i) => ({ key: `${m.id}-${i}`, id: m.id, riser: true, body: body(r.position as Point, r.inward as Point, r.loops) }));
    return [...hung, ...risers];
  }),
);
</script>

<template>
  <g class="rooms">
    <polygon v-for="o in masses" :key="`m-${o.room_id}`" class="mass" :points="text(o.outer as Point[])" />
    <polygon
      v-for="room in job.rooms" :key="room.id" class="floor" :class="{ chosen: chosen('room', room.id), bare: !room.floor, unheated: room.unheated }"
      :points="text(room.outline)" :style="shades?.[room.id] ? { fill: shades[room.id] } : undefined"
      data-kind="room" :data-id="room.id">
<title v-if="titles?.[room.id]">{{ titles[room.id] }}</title>
</polygon>
    <g v-for="room in job.rooms" :key="`j-${room.id}`">
      <polygon v-for="(j, i) in joists(room)" :key="i" class="joist" :points="text(j)" />
    </g>
    <g v-for="room in job.rooms" :key="`k-${room.id}`">
      <polygon
        v-for="k in room.keep_outs" :key="k.id" class="keep-out" :class="{ chosen: chosen('keep_out', k.id) }"
        :points="text([[k.x0_m, k.y0_m], [k.x1_m, k.y0_m], [k.x1_m, k.y1_m], [k.x0_m, k.y1_m]])" data-kind="keep_out" :data-id="k.id" />
    </g>
    <polyline v-for="(w, i) in outside" :key="`o-${i}`" class="outside" :points="text(w.ends as Point[])" />
    <g v-for="room in job.rooms" :key="`w-${room.id}`">
      <line
        v-for="w in walls(room)" :key="w.edge" class="wall-grip"
        :class="{ chosen: selection?.kind === 'wall' && selection.id === room.id && selection.edge === w.edge }"
        :x1="w.a[0]" :y1="w.a[1]" :x2="w.b[0]" :y2="w.b[1]" data-kind="wall" :data-id="room.id" :data-edge="w.edge" />
    </g>
    <polygon
      v-for="o in roofWindows" :key="o.id" class="roof-window" :class="{ chosen: chosen('opening', o.id) }"
      :points="text(o.corners)" data-kind="opening" :data-id="o.id" />
    <line
      v-for="o in openings" :key="o.id" class="opening" :class="[o.kind, { chosen: chosen('opening', o.id) }]"
      :x1="o.a[0]" :y1="o.a[1]" :x2="o.b[0]" :y2="o.b[1]" data-kind="opening" :data-id="o.id" />
    <polygon
      v-for="m in manifolds" :key="m.key" class="manifold" :class="{ chosen: chosen('manifold', m.id), riser: m.riser }"
      :points="text(m.body)" data-kind="manifold" :data-id="m.id" />
    <g v-for="m in marks" :key="m.id" class="mark-on-plan" :class="[m.kind, { chosen: chosen('mark', m.id) }]" data-kind="mark" :data-id="m.id">
      <polyline v-if="m.kind === 'saw_cut'" :points="text(m.points as Point[])" />
      <path v-else :transform="`translate(${m.points[0]![0]} ${m.points[0]![1]})`" d="M0 0L.12.22H.3V.55H-.3V.22H-.12Z" />
      <title>{{ m.text }}</title>
    </g>
  </g>
</template>

<style>
.rooms * { vector-effect: non-scaling-stroke; }
.rooms .mass { fill: var(--mass); stroke: var(--mass); stroke-width: 1; }
.rooms .floor.unheated { fill: var(--floor-unheated); stroke-dasharray: 6 3; }
.rooms .mark-on-plan polyline { fill: none; stroke: var(--ink); stroke-width: 1.6; stroke-dasharray: 9 3 2 3; }
.rooms .mark-on-plan path { fill: var(--ember-soft); stroke: var(--ink); stroke-width: 1; }
.rooms .mark-on-plan.chosen * { stroke: var(--ember); stroke-width: 2.4; }
.rooms .floor { fill: var(--floor); stroke: var(--ink); stroke-width: 1.3; }
.rooms .joist { fill: var(--joist); stroke: var(--joist-edge); stroke-width: 0.7; pointer-events: none; }
.rooms .floor.bare { fill: var(--floor-bare); }
.rooms .floor.chosen { stroke: var(--ember); stroke-width: 2; }
.rooms .keep-out { fill: var(--keep-out); stroke: var(--keep-out-edge); stroke-width: 1; }
.rooms .keep-out.chosen { stroke: var(--ember); stroke-width: 2; }
.rooms .outside { fill: none; stroke: var(--ink); stroke-width: 4; stroke-linecap: square; pointer-events: none; }
.rooms .wall-grip { stroke: transparent; stroke-width: 11; }
.rooms .wall-grip:hover { stroke: rgb(168 62 18 / 25%); }
.rooms .wall-grip.chosen { stroke: var(--ember); stroke-width: 4; }
.rooms .opening { stroke-width: 7; stroke: var(--sheet); }
.rooms .opening.window { stroke: var(--glass); stroke-width: 5; }
.rooms .roof-window { fill: rgb(95 143 176 / 12%); stroke: var(--glass); stroke-width: 1.5; stroke-dasharray: 6 3; }
.rooms .roof-window.chosen { stroke: var(--ember); }
.rooms .opening.outside_door { stroke: var(--door); stroke-width: 6; }
.rooms .opening.sleeve { stroke: var(--shade); }
.rooms .opening.chosen { stroke: var(--ember); }
.rooms .manifold { fill: var(--ink); stroke: var(--sheet); stroke-width: 1; }
.rooms .manifold.riser { fill: var(--sheet); stroke: var(--ink); stroke-width: 2; stroke-dasharray: 3 2; }
.rooms .manifold.chosen { fill: var(--ember); }
</style>
