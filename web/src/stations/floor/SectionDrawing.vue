<script setup lang="ts">
/**
 * A section to scale with its isotherms and heat lines, the temperature of its surface above it. Layers of the build-up are
 * chosen by a click and thickened by dragging their lower face.
 */
import { computed, ref } from "vue";
import { scaleLinear } from "d3-scale";
import type { SectionPicture } from "../../api/client";
import { ticks } from "../../kit/charts";
import { waterColour } from "../../sheet/water";
import { store } from "../../job/store";
import { show } from "../../units";
import { tone } from "../../kit/tone";

const props = defineProps<{ picture: SectionPicture; chosen: number | null }>();
const emit = defineEmits<{
  choose: [index: number | null];
  /** Thicker by so much than when the drag began; none at its end. */
  drag: [index: number, by: number | null];
  grow: [index: number, by: number];
}>();
const { units } = store;
const s = (q: Parameters<typeof show>[0], v: number | null | undefined) => show(q, v, units.value);

const W = 580;
const LEFT = 56;
const RIGHT = 172;
const CHART = 84;
const GAP = 16;
const BODY = 250;
const p = computed(() => props.picture);
const height = computed(() => p.value.layers.at(-1)?.bottom_m ?? 0.1);
/** Cells drawn side by side. */
const cells = computed(() => Math.max(1, Math.min(4, Math.round((W - LEFT - RIGHT) / (BODY / height.value) / p.value.spacing_m))));
const scale = computed(() => Math.min((W - LEFT - RIGHT) / (cells.value * p.value.spacing_m), BODY / height.value));
const width = computed(() => cells.value * p.value.spacing_m);
const bodyH = computed(() => height.value * scale.value);
const flipped = computed(() => p.value.face === "ceiling");
/** Screen y of a depth below the finished surface: a ceiling hangs upside down. */
const topOfBody = computed(() => (flipped.value ? 4 : CHART + GAP));
const y = (depth: number) => topOfBody.value + (flipped.value ? bodyH.value - depth * scale.value : depth * scale.value);
const chartTop = computed(() => (flipped.value ? bodyH.value + GAP + 4 : 0));
const H = computed(() => bodyH.value + CHART + GAP + 26);
const tubes = computed(() => Array.from({ length: cells.value }, (_, i) => (i + 0.5) * p.value.spacing_m));
const hot = computed(() => Math.max(p.value.water_c, p.value.room_c + 1));
const cool = computed(() => Math.min(p.value.room_c, p.value.below_c));
const colour = (t: number) => waterColour((t - cool.value) / (hot.value - cool.value));

const path = (pieces: number[][]) => pieces.map((q) => `M${q[0]} ${q[1]}L${q[2]} ${q[3]}`).join("");
const isotherms = computed(() => p.value.isotherms.map((l) => ({ t: l.value, d: path(l.pieces as number[][]) })));
const heatLines = computed(() => p.value.heat_lines.map((l) => path(l.pieces as number[][])).join(""));
/** Isotherms are named where they reach midway between two tubes, as far as the names stay apart. */
const names = computed(() => {
  const half = p.value.spacing_m / 2;
  const out: { t: number; y: number }[] = [];
  for (const l of p.value.isotherms) {
    const at = (l.pieces as number[][]).flatMap((q) => [[q[0]!, q[1]!], [q[2]!, q[3]!]]).find((q) => Math.abs(q[0]! - half) < 1e-6);
    if (!at) continue;
    const place = y(at[1]!);
    if (out.every((o) => Math.abs(o.y - place) > 11)) out.push({ t: l.value, y: place });
  }
  return out;
});
/** Words beside the layers, pushed apart where layers are thin. */
const words = computed(() => {
  const list = p.value.layers.map((l) => ({ layer: l, at: (y(l.top_m) + y(l.bottom_m)) / 2, y: 0 }));
  const sorted = [...list].sort((a, b) => a.at - b.at);
  let last = topOfBody.value - 14;
  for (const w of sorted) {
    w.y = Math.max(w.at, last + 15);
    last = w.y;
  }
  return list;
});
const brief = (name: string) => (name.length > 24 ? `${name.slice(0, 23).trimEnd()}…` : name);
const right = computed(() => LEFT + width.value * scale.value);

const profile = computed(() => {
  const half = p.value.profile_x_m.map((x, i) => [x, p.value.profile_c[i]!] as const);
  const out: [number, number][] = [];
  for (const tube of tubes.value) {
    for (const [x, t] of [...half].reverse()) out.push([tube - x, t]);
    for (const [x, t] of half.slice(1)) out.push([tube + x, t]);
  }
  return out;
});
const least = computed(() => Math.min(...p.value.profile_c));
const most = computed(() => Math.max(...p.value.profile_c));
const chartY = computed(() => {
  const middle = (least.value + most.value) / 2;
  // a ripple smaller than anybody feels shall look small
  const reach = Math.max(2, most.value - least.value) * 0.6;
  return scaleLinear().domain([middle - reach, middle + reach]).range([chartTop.value + CHART - 16, chartTop.value + 14]);
});
const curve = computed(() => profile.value.map(([x, t], i) => `${i ? "L" : "M"}${(LEFT + x * scale.value).toFixed(1)} ${chartY.value(t).toFixed(1)}`).join(""));

const dragging = ref<{ index: number; from: number } | null>(null);
function down(e: PointerEvent, index: number) {
  (e.currentTarget as Element).setPointerCapture(e.pointerId);
  dragging.value = { index, from: e.clientY };
  emit("choose", index);
}
function drag(e: PointerEvent) {
  const d = dragging.value;
  if (!d) return;
  const svg = (e.currentTarget as SVGElement).ownerSVGElement!;
  const perPixel = H.value / svg.getBoundingClientRect().height / scale.value;
  const by = (e.clientY - d.from) * perPixel * (flipped.value ? -1 : 1);
  emit("drag", d.index, Math.round(by * 1000) / 1000);
}
function up() {
  if (dragging.value) emit("drag", dragging.value.index, null);
  dragging.value = null;
}
function key(e: KeyboardEvent, index: number) {
  const by = { ArrowDown: 0.001, ArrowUp: -0.001, PageDown: 0.01, PageUp: -0.01 }[e.key];
  if (by === undefined) return;
  e.preventDefault();
  emit("grow", index, by);
}
const title = computed(() => `Section, ${s("size", p.value.spacing_m)} spacing: surface ${s("temperature", p.value.surface_mean_c)}, tube ${s("temperature", p.value.tube_c)}, underside ${s("temperature", p.value.underside_c)}`);
</script>

<template>
  <svg class="section" :viewBox="`0 0 ${W} ${H}`" role="group" :aria-label="title">
    <defs>
      <g id="half-cell">
        <path v-for="l in isotherms" :key="l.t" :d="l.d" :stroke="colour(l.t)" class="isotherm" />
        <path :d="heatLines" class="heat" />
      </g>
    </defs>
    <g class="chart">
      <text :x="LEFT" :y="chartTop + 9" class="caption">How even is the surface? {{ s("difference", most - least) }} from line to line</text>
      <g v-for="t in ticks('temperature', chartY.domain()[0]!, chartY.domain()[1]!, units, 3)" :key="t.value">
        <line :x1="LEFT" :x2="right" :y1="chartY(t.value)" :y2="chartY(t.value)" class="grid" />
        <text :x="LEFT - 5" :y="chartY(t.value) + 4" class="tick">{{ t.text }}</text>
      </g>
      <path :d="curve" class="profile" />
      <text :x="right + 6" :y="chartY(most) + 2" class="word">{{ s("temperature", most) }} warmest</text>
      <text :x="right + 6" :y="Math.max(chartY(least) + 6, chartY(most) + 15)" class="word">{{ s("temperature", least) }} coolest</text>
    </g>
    <g class="layers">
      <g v-for="(l, i) in p.layers" :key="i" :class="{ chosen: l.index !== null && l.index === chosen }" @click="emit('choose', l.index ?? null)">
        <rect :x="LEFT" :y="Math.min(y(l.top_m), y(l.bottom_m))" :width="width * scale" :height="(l.bottom_m - l.top_m) * scale" :fill="tone(l.material_id === 'air' ? 0 : l.conductivity_w_mk)"><title>{{ l.name }}, {{ s("thickness", l.bottom_m - l.top_m) }}, λ {{ s("linear", l.conductivity_w_mk) }}</title></rect>
        <template v-if="l.rib_m">
          <rect v-for="k in cells + 1" :key="k" class="rib" :x="LEFT + Math.max(0, (k - 1) * p.spacing_m - l.rib_m / 2) * scale" :y="Math.min(y(l.top_m), y(l.bottom_m))" :width="(k === 1 || k === cells + 1 ? 0.5 : 1) * l.rib_m * scale" :height="(l.bottom_m - l.top_m) * scale" />
        </template>
      </g>
    </g>
    <g v-for="x in tubes" :key="x">
      <g v-if="p.plate" class="plate">
        <template v-for="side in [-1, 1]" :key="side">
          <rect
            :x="LEFT + (x + (side < 0 ? -p.plate.width_m / 2 : p.plate.wrap === 'lower' ? p.tube_od_m / 2 : 0)) * scale"
            :y="Math.min(y(p.plate.depth_m), y(p.plate.depth_m + p.plate.thickness_m)) - (p.plate.thickness_m * scale < 2 ? 0.7 : 0)"
            :width="(p.plate.width_m / 2 - (p.plate.wrap === 'lower' ? p.tube_od_m / 2 : 0)) * scale"
            :height="Math.max(1.6, p.plate.thickness_m * scale)"
          />
        </template>
        <path v-if="p.plate.wrap !== 'none'" :d="`M${LEFT + (x - p.tube_od_m / 2) * scale} ${y(p.plate.wrap === 'lower' ? p.plate.depth_m : p.axis_depth_m)}L${LEFT + (x - p.tube_od_m / 2) * scale} ${y(p.axis_depth_m)}A${(p.tube_od_m / 2) * scale} ${(p.tube_od_m / 2) * scale} 0 0 ${(p.plate.wrap === 'lower') === flipped ? 1 : 0} ${LEFT + (x + p.tube_od_m / 2) * scale} ${y(p.axis_depth_m)}L${LEFT + (x + p.tube_od_m / 2) * scale} ${y(p.plate.wrap === 'lower' ? p.plate.depth_m : p.axis_depth_m)}`" />
      </g>
      <g :transform="`translate(${LEFT + x * scale} ${y(0)}) scale(${scale} ${flipped ? -scale : scale})`"><use href="#half-cell" /></g>
      <g :transform="`translate(${LEFT + x * scale} ${y(0)}) scale(${-scale} ${flipped ? -scale : scale})`"><use href="#half-cell" /></g>
      <circle :cx="LEFT + x * scale" :cy="y(p.axis_depth_m)" :r="(p.tube_od_m / 2) * scale" class="tube" />
      <circle :cx="LEFT + x * scale" :cy="y(p.axis_depth_m)" :r="(p.tube_od_m / 2 - p.tube_wall_m) * scale" :fill="colour(p.water_c)" />
    </g>
    <text v-for="n in names" :key="n.t" :x="right - 4" :y="n.y + 3.5" class="name">{{ s("temperature", n.t) }}</text>
    <g v-for="(w, i) in words" :key="i" class="words" @click="emit('choose', w.layer.index ?? null)">
      <path :d="`M${right + 2} ${w.at}L${right + 10} ${w.y}`" class="lead" />
      <text :x="right + 13" :y="w.y + 4" :class="{ chosen: w.layer.index !== null && w.layer.index === chosen }">{{ s(w.layer.bottom_m - w.layer.top_m < 0.01 ? "thickness" : "size", w.layer.bottom_m - w.layer.top_m) }} {{ brief(w.layer.name) }}<title>{{ w.layer.name }}</title></text>
    </g>
    <text :x="LEFT - 5" :y="y(0) + (flipped ? 2 : 3)" class="tick">{{ s("temperature", p.surface_mean_c) }}</text>
    <text :x="LEFT - 5" :y="y(p.axis_depth_m) + 4" class="tick hot">{{ s("temperature", p.water_c) }}</text>
    <text :x="LEFT - 5" :y="y(height) + (flipped ? 8 : 0)" class="tick">{{ s("temperature", p.underside_c) }}</text>
    <text :x="LEFT" :y="flipped ? H - 2 : y(height) + 15" class="caption">{{ flipped ? "" : p.face === "wall" ? "behind" : "below" }} {{ flipped ? "" : s("temperature", p.below_c) }}<template v-if="flipped">room {{ s("temperature", p.room_c) }}, above {{ s("temperature", p.below_c) }}</template></text>
    <template v-for="(l, i) in p.layers" :key="i">
        <rect
          v-if="l.index !== null && l.index !== undefined"
          class="handle"
          :x="LEFT"
          :y="y(l.bottom_m) - 4"
          :width="width * scale"
          height="8"
          tabindex="0"
          role="slider"
          :aria-label="`Thickness of ${l.name}`"
          aria-orientation="vertical"
          :aria-valuenow="Math.round((l.bottom_m - l.top_m) * 1000)"
          aria-valuemin="1"
          aria-valuemax="2000"
          :aria-valuetext="s('thickness', l.bottom_m - l.top_m)"
          @pointerdown="down($event, l.index)"
          @pointermove="drag"
          @pointerup="up"
          @focus="emit('choose', l.index)"
          @keydown="key($event, l.index)"
        />
    </template>
  </svg>
</template>

<style scoped>
.section { width: 100%; height: 100%; display: block; }
text { font-size: 11px; fill: var(--ink); }
.caption { fill: var(--soft); }
.tick { text-anchor: end; fill: var(--soft); }
.tick.hot { fill: var(--ember); font-weight: 600; }
.grid { stroke: var(--faint); }
.profile { fill: none; stroke: var(--ember); stroke-width: 1.8; }
.layers rect { stroke: var(--keep-out-edge); stroke-width: 0.6; }
.layers .chosen rect { stroke: var(--ember); stroke-width: 2; }
.rib { fill: var(--timber); }
.plate rect, .plate path { fill: var(--metal); }
.plate path { fill: none; stroke: var(--metal); stroke-width: 2; }
.isotherm { fill: none; stroke-width: 1.3; vector-effect: non-scaling-stroke; }
.heat { fill: none; stroke: var(--drawn); stroke-width: 0.7; stroke-dasharray: 3 2.5; opacity: 0.55; vector-effect: non-scaling-stroke; }
.tube { fill: var(--drawn-halo); stroke: var(--drawn); stroke-width: 0.8; }
.name { text-anchor: end; font-size: 10px; fill: var(--drawn); paint-order: stroke; stroke: var(--drawn-halo); stroke-width: 3px; }
.words { cursor: pointer; }
.words .chosen { fill: var(--ember); font-weight: 650; }
.lead { fill: none; stroke: var(--line); }
.handle { fill: transparent; cursor: ns-resize; touch-action: none; }
.handle:focus-visible { fill: rgb(192 72 32 / 35%); outline: none; }
.handle:hover { fill: rgb(192 72 32 / 20%); }
</style>
