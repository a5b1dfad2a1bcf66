<script setup lang="ts" generic="Row">
/**
 * A chart's frame: the question it answers, axes in the viewer's units, a key, what the pointer is over, and the same figures as
 * a table. The curves are the slot's, in pixels by the scales it is given.
 */
import { scaleLinear } from "d3-scale";
import { computed, ref } from "vue";
import { store } from "../job/store";
import { dialect, symbol } from "../units";
import { ticks, type Axis } from "./charts";
import { cellText, type Column } from "./table";

const props = defineProps<{
  question: string;
  /** What it shows, for those who do not see it. */
  label: string;
  x: Axis;
  y: Axis;
  width?: number;
  height?: number;
  /** What stands at a place of the horizontal axis, SI. */
  read?: (x: number) => string;
  columns: Column<Row>[];
  rows: Row[];
}>();
const { units } = store;
const W = computed(() => props.width ?? 380);
const H = computed(() => props.height ?? 190);
const plot = computed(() => ({ left: props.y.name ? 60 : 50, right: W.value - 10, top: 8, bottom: H.value - (props.x.name ? 32 : 20) }));
const x = computed(() => scaleLinear().domain([props.x.from, props.x.to]).range([plot.value.left, plot.value.right]));
const y = computed(() => scaleLinear().domain([props.y.from, props.y.to]).range([plot.value.bottom, plot.value.top]));
const marks = (axis: Axis, count: number) => axis.ticks ?? ticks(axis.quantity, axis.from, axis.to, units.value, count);
const named = (axis: Axis) => [axis.name, symbol(axis.quantity, units.value)].filter(Boolean).join(", ");
const asTable = ref(false);
const over = ref<number | null>(null);
function point(e: PointerEvent) {
  const box = (e.currentTarget as SVGElement).getBoundingClientRect();
  const px = ((e.clientX - box.left) / box.width) * W.value;
  over.value = props.read && px >= plot.value.left && px <= plot.value.right ? x.value.invert(px) : null;
}
</script>

<template>
  <figure class="chart">
    <figcaption>
      {{ question }}
      <ElButton class="no-print" link size="small" :aria-pressed="asTable" @click="asTable = !asTable">{{ asTable ? "As a chart" : "As a table" }}</ElButton>
    </figcaption>
    <div v-if="asTable" class="figures" tabindex="0" role="region" :aria-label="`${question} Table`">
      <table class="grid-table">
        <thead><tr><th v-for="c in columns" :key="c.key" :class="{ num: c.num ?? c.quantity }">{{ dialect(c.head, units) }}</th></tr></thead>
        <tbody><tr v-for="(row, i) in rows" :key="i"><td v-for="c in columns" :key="c.key" :class="{ num: c.num ?? c.quantity }">{{ cellText(c, row, units) }}</td></tr></tbody>
      </table>
    </div>
    <svg v-else :viewBox="`0 0 ${W} ${H}`" role="img" :aria-label="label" @pointermove="point" @pointerleave="over = null">
      <g v-for="t in marks(props.y, 5)" :key="`y${t.value}`"><line class="grid" :x1="plot.left" :x2="plot.right" :y1="y(t.value)" :y2="y(t.value)" /><text class="end" :x="plot.left - 5" :y="y(t.value) + 4">{{ t.text }}</text></g>
      <g v-for="t in marks(props.x, 6)" :key="`x${t.value}`"><line v-if="!props.x.ticks" class="grid" :x1="x(t.value)" :x2="x(t.value)" :y1="plot.top" :y2="plot.bottom" /><text class="mid" :x="x(t.value)" :y="plot.bottom + 13">{{ t.text }}</text></g>
      <text v-if="props.x.name" class="mid" :x="(plot.left + plot.right) / 2" :y="H - 4">{{ named(props.x) }}</text>
      <text v-if="props.y.name" class="mid" :transform="`translate(12 ${(plot.top + plot.bottom) / 2}) rotate(-90)`">{{ named(props.y) }}</text>
      <slot :x="x" :y="y" :plot="plot" />
      <g v-if="over !== null" class="over"><line :x1="x(over)" :x2="x(over)" :y1="plot.top" :y2="plot.bottom" /><text :class="x(over) > W / 2 ? 'end' : ''" :x="x(over) + (x(over) > W / 2 ? -5 : 5)" :y="plot.top + 11">{{ read!(over) }}</text></g>
    </svg>
    <p v-if="$slots.key" class="keys"><slot name="key" /></p>
  </figure>
</template>

<style>
.chart { margin: 0; }
.chart figcaption { font-weight: 650; display: flex; gap: 10px; align-items: baseline; }
.chart svg { width: 100%; height: auto; display: block; touch-action: pan-y; }
.chart text { font-size: 10.5px; fill: var(--soft); }
.chart figcaption .el-button { flex: none; }
.chart .mid { text-anchor: middle; }
.chart .end { text-anchor: end; }
.chart .grid { stroke: var(--faint); }
.chart .over line { stroke: var(--ink); stroke-width: 0.8; }
.chart .over text { fill: var(--ink); font-weight: 600; paint-order: stroke; stroke: var(--paper); stroke-width: 3px; }
.chart .keys { margin: 0; font-size: 12px; color: var(--soft); }
.chart .figures { max-height: 200px; overflow: auto; }
</style>
