<script setup lang="ts">
/**
 * The piping as it is drawn by the core: pipes by the temperature of their water and the strength of their flow, with figures at
 * each branch. Circuits are dragged along to change their order.
 */
import { computed, ref } from "vue";
import symbols from "../../../../crates/documents/data/piping_symbols.json";
import type { CircuitState, PlantState } from "../../api/client";
import { reorder } from "../../job/plant";
import { store } from "../../job/store";
import { onScreen, waterColour } from "../../sheet/water";
import { show } from "../../units";
import { isOn, turn } from "./trial";

const props = defineProps<{ state: PlantState; still?: boolean }>();
const { units } = store;

/** Widest pipe, squares. */
const WIDEST = 1.1;
const NAME_LETTERS = 15;
type Pipe = PlantState["pipes"][number];
const temperatures = computed(() => props.state.pipes.flatMap((p) => (p.temperature_c === null || p.temperature_c === undefined ? [] : [p.temperature_c])));
const range = computed(() => [Math.min(20, ...temperatures.value), Math.max(40, ...temperatures.value)] as const);
const colour = (c: number | null | undefined) => (c === null || c === undefined ? "var(--off)" : onScreen(waterColour((c - range.value[0]) / (range.value[1] - range.value[0]))));
const most = computed(() => Math.max(0.1, ...props.state.pipes.map((p) => Math.abs(p.flow_l_min))));
const width = (p: Pipe) => 0.28 + (WIDEST - 0.28) * Math.sqrt(Math.abs(p.flow_l_min) / most.value);
const moves = (p: Pipe) => p.temperature_c !== null && p.temperature_c !== undefined;
const line = (p: Pipe) => p.points.map((q) => q.join(",")).join(" ");
/** An arrow on the longest straight of a pipe, along its flow. */
function arrow(p: Pipe) {
  let best = { length: 0, at: [0, 0], turn: 0 };
  for (let i = 1; i < p.points.length; i++) {
    const [a, b] = [p.points[i - 1]!, p.points[i]!];
    const length = Math.hypot(b[0]! - a[0]!, b[1]! - a[1]!);
    if (length > best.length) best = { length, at: [(a[0]! + b[0]!) / 2, (a[1]! + b[1]!) / 2], turn: (Math.atan2(b[1]! - a[1]!, b[0]! - a[0]!) * 180) / Math.PI + (p.flow_l_min < 0 ? 180 : 0) };
  }
  return best;
}
const arrows = computed(() => props.state.pipes.filter((p) => moves(p) && Math.abs(p.flow_l_min) > 0.02).map(arrow).filter((a) => a.length > 1.5));
const circuit = (id: string): CircuitState | undefined => props.state.circuits.find((c) => c.id === id);
const source = (id: string) => props.state.sources.find((s) => s.id === id);
const cut = (name: string, letters = NAME_LETTERS) => (name.length > letters ? `${name.slice(0, letters - 1).trimEnd()}…` : name);
/** The strokes of a symbol, from its middle; the papers draw from the same table. */
const glyph = (kind: string): { d: string }[] => (symbols as Record<string, { d: string }[]>)[kind] ?? [];
const users = new Set(["manifold", "emitters", "tank", "typed"]);
const t = (c: number | null | undefined) => show("temperature", c, units.value);
const f = (q: number | null | undefined) => show("flow", q, units.value);
/** Tees with what flows between them. */
const tees = computed(() =>
  props.state.symbols.filter((s) => s.kind === "tees").map((s) => {
    const between = props.state.pipes.find((p) => p.points.length === 2 && Math.abs(p.points[0]![0]! - s.at[0]! + 1) < 0.01 && Math.abs(p.points[0]![1]! - s.at[1]!) < 0.01);
    return { at: s.at, flow: between?.flow_l_min ?? 0 };
  }),
);

const dragged = ref<{ id: string; from: number; by: number } | null>(null);
const svg = ref<SVGSVGElement>();
const toSquares = (e: PointerEvent) => {
  const at = new DOMPoint(e.clientX, e.clientY).matrixTransform(svg.value!.getScreenCTM()!.inverse());
  return at.x;
};
const shown = computed(() => props.state.circuits.map((c) => c.id));
function down(e: PointerEvent, id: string) {
  if (props.still || e.button !== 0) return;
  (e.currentTarget as Element).setPointerCapture(e.pointerId);
  dragged.value = { id, from: toSquares(e), by: 0 };
}
const move = (e: PointerEvent) => dragged.value && (dragged.value.by = toSquares(e) - dragged.value.from);
function up() {
  const d = dragged.value;
  dragged.value = null;
  if (!d || Math.abs(d.by) < 2) return;
  const middle = (id: string) => props.state.symbols.find((s) => s.id === id && users.has(s.kind))?.at[0] ?? 0;
  const at = middle(d.id) + d.by;
  const to = shown.value.filter((id) => id !== d.id && middle(id) < at).length;
  if (to !== shown.value.indexOf(d.id)) store.edit("change the order", (j) => reorder(j, shown.value, d.id, to));
}
function letter(e: KeyboardEvent, id: string) {
  const step = e.key === "ArrowLeft" ? -1 : e.key === "ArrowRight" ? 1 : 0;
  if (step) store.edit("change the order", (j) => reorder(j, shown.value, id, shown.value.indexOf(id) + step));
  else if (e.key === " " || e.key === "Enter") turn(id, !isOn(id));
  else return;
  e.preventDefault();
}
const told = computed(() => `Piping: ${props.state.circuits.map((c) => `${c.name} ${c.on ? `${t(c.supply_c)} supply, ${t(c.return_c)} return, ${f(c.flow_l_min)}` : "off"}`).join("; ")}`);
</script>

<template>
  <div class="over" tabindex="0" role="region" aria-label="Piping">
  <svg ref="svg" class="piping" :viewBox="`0 0 ${state.size[0]} ${state.size[1]}`" role="group" :aria-label="told" @pointermove="move" @pointerup="up" @pointercancel="dragged = null">
    <g class="pipes">
      <polyline v-for="(p, i) in state.pipes" :key="i" :points="line(p)" :class="{ still: !moves(p) }" :stroke="colour(p.temperature_c)" :stroke-width="moves(p) ? width(p) : 0.3" />
      <path v-for="(a, i) in arrows" :key="`a${i}`" class="arrow" d="M-0.5,-0.55 L0.7,0 L-0.5,0.55 Z" :transform="`translate(${a.at[0]} ${a.at[1]}) rotate(${a.turn})`" />
    </g>
    <g v-for="x in tees" :key="`t${x.at[0]!}`" class="small"><text class="mid" :x="x.at[0]!" :y="x.at[1]! + 2.1" :class="{ back: x.flow < -0.05 }">{{ f(x.flow) }}</text></g>
    <template v-for="s in state.symbols" :key="`${s.kind}${s.id}`">
      <g v-if="users.has(s.kind)" class="user" :class="{ off: !circuit(s.id)?.on, dragged: dragged?.id === s.id }" :transform="dragged?.id === s.id ? `translate(${dragged.by} 0)` : undefined" tabindex="0" role="button" :aria-label="`${circuit(s.id)?.name}: ${circuit(s.id)?.on ? 'on' : 'off'}. Left and right change the order, Enter switches it.`" @pointerdown="down($event, s.id)" @keydown="letter($event, s.id)">
        <rect :x="s.at[0]! - s.size[0]! / 2" :y="s.at[1]! - s.size[1]! / 2" :width="s.size[0]" :height="s.size[1]" rx="0.5" />
        <path v-for="g in glyph(s.kind)" :key="g.d" :d="g.d" :transform="`translate(${s.at[0]} ${s.at[1]})`" />
        <title>{{ circuit(s.id)?.name }}</title>
        <text class="mid name" :x="s.at[0]" :y="s.at[1]! - s.size[1]! / 2 - 2">{{ cut(circuit(s.id)?.name ?? "") }}</text>
        <text class="mid" :x="s.at[0]" :y="s.at[1]! - s.size[1]! / 2 - 0.6">{{ circuit(s.id)?.on ? show("heat", circuit(s.id)?.heat_w, units) : "off" }}{{ s.label ? ` · ${s.label}` : "" }}</text>
      </g>
      <g v-else-if="s.kind === 'pump'" class="part">
        <circle :cx="s.at[0]" :cy="s.at[1]" :r="s.size[0]! / 2" /><path v-for="g in glyph(s.id === 'source' || s.id === 'second' ? 'pump_along' : 'pump')" :key="g.d" class="fill" :d="g.d" :transform="`translate(${s.at[0]} ${s.at[1]})`" />
      </g>
      <g v-else-if="s.kind === 'mixer' || s.kind === 'check_valve'"><path v-for="g in glyph(s.kind)" :key="g.d" class="part" :d="g.d" :transform="`translate(${s.at[0]} ${s.at[1]})`" /></g>
      <g v-else-if="s.kind === 'vessel'" class="part"><circle :cx="s.at[0]" :cy="s.at[1]" r="1.4" /><path v-for="g in glyph(s.kind)" :key="g.d" :d="g.d" :transform="`translate(${s.at[0]} ${s.at[1]})`" /><title>Expansion vessel</title></g>
      <g v-else-if="s.kind === 'source'" class="source">
        <rect :x="s.at[0]! - s.size[0]! / 2" :y="s.at[1]! - s.size[1]! / 2" :width="s.size[0]" :height="s.size[1]" rx="0.6" />
        <path v-for="g in glyph(s.kind)" :key="g.d" class="flame" :d="g.d" :transform="`translate(${s.at[0]} ${s.at[1]})`" />
        <text class="name" :x="s.at[0]! - s.size[0]! / 2" :y="s.at[1]! - s.size[1]! / 2 - 2.1">{{ cut(s.label || "Source", 11) }}<title>{{ s.label }}</title></text>
        <text :x="s.at[0]! - s.size[0]! / 2" :y="s.at[1]! - s.size[1]! / 2 - 0.6">{{ source(s.id)?.runs ? show("heat", source(s.id)?.heat_w, units) : "off" }}</text>
        <text :x="s.at[0]! + s.size[0]! / 2 + 0.4" :y="s.at[1]! - s.size[1]! / 2 + (s.size[1]! > 11 ? 5 : 4.6)">{{ t(source(s.id)?.leaves_c) }}</text>
        <text :x="s.at[0]! + s.size[0]! / 2 + 0.4" :y="s.at[1]! + s.size[1]! / 2 - 2.8">{{ t(source(s.id)?.returns_c) }}</text>
        <text :x="s.at[0]! + s.size[0]! / 2 + 0.4" :y="s.at[1]! + s.size[1]! / 2 - 0.1">{{ f(source(s.id)?.flow_l_min) }}</text>
      </g>
      <g v-else-if="s.kind === 'separator' || s.kind === 'buffer' || s.kind === 'exchanger'" class="part">
        <rect :x="s.at[0]! - s.size[0]! / 2" :y="s.at[1]! - s.size[1]! / 2" :width="s.size[0]" :height="s.size[1]" :rx="s.kind === 'exchanger' ? 0.2 : 0.9" />
        <path v-if="s.kind === 'exchanger'" :d="`M${s.at[0]! - s.size[0]! / 2},${s.at[1]! + s.size[1]! / 2} l${s.size[0]},${-s.size[1]!}`" />
        <text class="mid" :x="s.at[0]" :y="s.at[1]! + s.size[1]! / 2 + 1.6">{{ s.label }}</text>
      </g>
    </template>
    <g v-for="s in state.symbols.filter((x) => x.kind === 'pump' && circuit(x.id))" :key="`f${s.id}`" class="small">
      <template v-if="circuit(s.id)?.on">
        <text class="end" :x="s.at[0]! - 0.9" :y="s.at[1]! - 3.2">{{ t(circuit(s.id)?.supply_c) }}</text>
        <text class="end" :x="s.at[0]! + 4.3" :y="s.at[1]! - 3.2">{{ t(circuit(s.id)?.return_c) }}</text>
        <text class="mid" :x="s.at[0]! + 3.1" :y="s.at[1]! + 3.6">{{ f(circuit(s.id)?.flow_l_min).split(/\s/)[0] }}</text>
        <text class="mid" :x="s.at[0]! + 3.1" :y="s.at[1]! + 5">{{ f(circuit(s.id)?.flow_l_min).split(/\s/)[1] }}</text>
        <text v-if="circuit(s.id)?.hot_share !== null && circuit(s.id)?.hot_share !== undefined" class="end" :x="s.at[0]! - 1.6" :y="s.at[1]! + 6.5">{{ show("share", circuit(s.id)?.hot_share, units) }}</text>
      </template>
    </g>
  </svg>
  </div>
</template>

<style scoped>
.over { flex: 1; min-height: 260px; min-width: 0; overflow: auto; display: flex; }
.piping { flex: 1; width: 100%; min-height: 0; padding: 2px 6px; user-select: none; touch-action: pan-x pan-y; }
/* on a phone it is read piece by piece */
@media (max-width: 900px) { .piping { min-width: 720px; } }
.pipes polyline { fill: none; stroke-linejoin: round; stroke-linecap: round; }
.pipes .still { stroke-dasharray: 0.8 0.6; }
.arrow { fill: var(--ink); stroke: var(--sheet); stroke-width: 0.15; }
text { font-size: 1.3px; fill: var(--ink); paint-order: stroke; stroke: var(--sheet); stroke-width: 0.35px; }
.small text { font-size: 1.2px; }
.name { font-weight: 650; }
.mid { text-anchor: middle; }
.end { text-anchor: end; }
.back { fill: var(--ember); font-weight: 650; }
.user { cursor: grab; }
.user rect, .part circle, .part rect, .source rect, path.part { fill: var(--paper); stroke: var(--ink); stroke-width: 0.18; }
.user path, .part path { fill: none; stroke: var(--ink); stroke-width: 0.22; }
.user.off { opacity: 0.55; }
.user.dragged rect { stroke: var(--ember); }
.user:focus-visible { outline: none; }
.user:focus-visible > rect { stroke: var(--ember); stroke-width: 0.4; }
.part .fill { fill: var(--ink); stroke: none; }
.flame { fill: var(--ember); }
</style>
