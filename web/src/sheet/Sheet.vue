<script setup lang="ts">
/** The drafting sheet: the plan of the level, with what the station adds to it. It knows no station by name. */
import { useEventListener, useResizeObserver } from "@vueuse/core";
import { computed, onBeforeUnmount, onMounted, ref, watch } from "vue";
import type { Point } from "../api/client";
import { store } from "../job/store";
import { STATIONS } from "../stations";
import type { RoomLook, StationPart } from "../stations/station";
import { useStationView } from "../stations/view";
import { show } from "../units";
import { provideSheet } from "./context";
import LevelBar from "./LevelBar.vue";
import { pickBox } from "./pick";
import { pins } from "./pins";
import { breadth, labelPlace, LINES_FROM_PX } from "./places";
import PlanRooms from "./PlanRooms.vue";
import ScaleBar from "./ScaleBar.vue";
import type { SheetPointer } from "./tool";
import { corners as pictureCorners, matrix } from "./underlay";
import { useView } from "./view";

const { show: showView } = useStationView();
const props = defineProps<{ station: StationPart }>();
const holder = ref<HTMLElement>();
const svg = ref<SVGSVGElement>();
const v = useView();
const { state, where, units, levelJob: job, levelDesign: design } = store;

// tools and looks of all stations are made once: composables are called while the sheet is set up
const boxes = new Map(STATIONS.map((s) => [s.id, s.sheet?.tools?.(v) ?? pickBox()]));
const looks = new Map<string, RoomLook>(STATIONS.map((s) => [s.id, s.sheet?.rooms?.() ?? {}]));
const box = computed(() => boxes.get(props.station.id)!);
const look = computed(() => looks.get(props.station.id)!);
const part = computed(() => props.station.sheet ?? {});
watch(() => props.station.id, (_, before) => {
  const last = boxes.get(before);
  last?.choose(last.tools[0]!.id);
});

const roomCorners = () => (job.value?.rooms ?? []).flatMap((r) => r.outline);
/** All that is to be seen: where rooms are drawn, or there are none yet, the picture under them too. */
function corners(): Point[] {
  const picture = store.level.value?.underlay;
  const rooms = roomCorners();
  return picture && (part.value.drawing || !rooms.length) ? [...rooms, ...pictureCorners(picture)] : rooms;
}
provideSheet({
  view: v,
  get box() {
    return box.value;
  },
  fit: () => v.fit(corners()),
  showNew: () => v.show(roomCorners(), corners()),
});

let fitted = "";
useResizeObserver(holder, () => {
  v.size(holder.value!.clientWidth, holder.value!.clientHeight);
  if (fitted === state.id || !job.value) return;
  fitted = state.id;
  if (!v.recall(state.id)) v.fit(corners());
});
onMounted(() => v.attach(svg.value!, (e) => free && ("button" in e ? (e as MouseEvent).button < 2 : getComputedStyle(svg.value!).touchAction === "none")));
onBeforeUnmount(() => v.remember(fitted));
watch(() => where.selection?.at, (at) => at && reveal(at));
function reveal(at: [number, number]) {
  const [x, y] = v.toScreen(at);
  if (x < 40 || y < 40 || x > v.view.width - 40 || y > v.view.height - 40) v.pan(v.view.width / 2 - x, v.view.height / 2 - y);
}

/** What no tool took moves the sheet. */
let free = false;
const fingers = new Set<number>();
function pointer(e: PointerEvent): SheetPointer {
  const frame = svg.value!.getBoundingClientRect();
  const screen: Point = [e.clientX - frame.left, e.clientY - frame.top];
  return { at: v.toPlan(screen), screen, target: e.target as Element, alone: e.altKey };
}
function down(e: PointerEvent) {
  if (e.button === 2) return;
  fingers.add(e.pointerId);
  svg.value?.focus({ preventScroll: true });
  if (fingers.size > 1) {
    // a second finger: the sheet is moved, nothing on it
    box.value.active.cancel?.();
    free = true;
    return;
  }
  if (e.button === 1) free = true;
  else {
    box.value.hand.problem = "";
    free = box.value.active.down(pointer(e)) === false;
  }
  if (!free) svg.value?.setPointerCapture(e.pointerId);
}
function moved(e: PointerEvent) {
  if (fingers.size < 2) box.value.active.move?.(pointer(e));
}
function up(e: PointerEvent) {
  fingers.delete(e.pointerId);
  box.value.active.up?.();
}
function cancelled(e: PointerEvent) {
  fingers.delete(e.pointerId);
  box.value.active.cancel?.();
}
useEventListener(window, "blur", () => fingers.clear());

/** Keys on the sheet: arrows move what is chosen, or the sheet; + and − zoom, 0 shows all. */
function key(e: KeyboardEvent) {
  if (e.ctrlKey || e.metaKey || e.altKey) return;
  const step = (units.value === "us" ? 0.0254 : 0.05) * (e.shiftKey ? 10 : 1);
  const arrows: Record<string, Point> = { ArrowLeft: [-step, 0], ArrowRight: [step, 0], ArrowUp: [0, step], ArrowDown: [0, -step] };
  const by = arrows[e.key];
  if (by) {
    if (!box.value.nudge?.(by)) v.pan(-by[0] * 400, by[1] * 400);
  } else if (e.key === "+" || e.key === "=") v.zoom(1.25);
  else if (e.key === "-") v.zoom(0.8);
  else if (e.key === "0") v.fit(corners());
  else return;
  e.preventDefault();
}

const dropped = ref<File | null>(null);
/** Keys anywhere on the page that belong to the tools. Returns whether the key was one. */
defineExpose({ letter: (key: string) => box.value.letter(key) });

/** Width of a letter on the mean, pixels, of names, of small ones, of lines under them. */
const [NAME_PX, SMALL_PX, LINE_PX] = [7.4, 5.7, 5.9];
const fits = (text: string, letter: number, width: number) => text.length * letter <= width;
/** A name stays within its room: smaller, then cut short. */
function nameFor(name: string, width: number): { name: string; small: boolean } {
  if (fits(name, NAME_PX, width)) return { name, small: false };
  const room = Math.max(2, Math.floor(width / SMALL_PX) - 1);
  return { name: fits(name, SMALL_PX, width) ? name : `${name.slice(0, room).trimEnd()}…`, small: true };
}
const labels = computed(() =>
  (job.value?.rooms ?? []).map((room) => {
    const wide = v.view.scale * breadth(room.outline);
    const xs = room.outline.map((p) => p[0]);
    const width = v.view.scale * (Math.max(...xs) - Math.min(...xs));
    const lines = look.value.lines?.(room, design.value?.rooms.find((r) => r.id === room.id)) ?? [];
    return { id: room.id, whole: room.name, at: v.toScreen(labelPlace(room.outline)), lines: wide > LINES_FROM_PX ? lines.filter((l) => fits(l, LINE_PX, 1.3 * width)) : [], ...nameFor(room.name, width) };
  }),
);
const underlay = computed(() => store.level.value?.underlay ?? null);
/** North on the plan, clockwise from its top. */
const north = computed(() => store.job.value?.site.north_deg ?? 0);
const pinned = computed(() => pins.value.filter((p) => p.level_id === store.level.value?.id).map((p) => ({ text: p.text, at: v.toScreen(p.at) })));
const mark = computed(() => (where.selection?.at ? v.toScreen(where.selection.at) : null));
</script>

<template>
  <section class="sheet" aria-label="Sheet">
    <component :is="part.bar" v-if="part.bar" v-bind="part.drawing ? { file: dropped } : {}" />
    <div v-else-if="part.back" class="back no-print"><ElButton size="small" @click="showView()">Back to {{ part.back }}</ElButton></div>
    <div ref="holder" class="holder" @dragover.prevent @drop.prevent="dropped = $event.dataTransfer?.files[0] ?? null">
      <img v-if="underlay" class="underlay" :src="`/api/files/${underlay.file_id}`" alt="" draggable="false" :style="{ width: `${underlay.width_px}px`, height: `${underlay.height_px}px`, transform: matrix(underlay, v), opacity: part.drawing ? underlay.strength : underlay.strength * 0.4 }" />
      <svg
        ref="svg" class="plan" :class="box.active === box.tools[0] ? 'pick' : 'cross'" :width="v.view.width" :height="v.view.height" tabindex="0" role="application"
        aria-label="Plan. Arrow keys move what is chosen, plus and minus zoom, 0 shows all."
        @mousedown.prevent @pointerdown="down" @pointermove="moved" @pointerup="up" @pointercancel="cancelled" @keydown="key">
        <g v-if="job" :transform="v.matrix.value" :class="{ traced: underlay && part.drawing }">
          <component :is="part.under" v-if="part.under" />
          <PlanRooms :job="job" :design="design" :selection="where.selection" :shades="look.shades?.value" :titles="look.titles?.value" />
          <component :is="part.over" v-if="part.over" />
        </g>
        <g class="labels">
          <g v-for="l in labels" :key="l.id">
            <text v-if="!look.nameless" :x="l.at[0]" :y="l.at[1]" class="name" :class="{ small: l.small }">{{ l.name }}<title v-if="l.name !== l.whole">{{ l.whole }}</title></text>
            <text v-for="(line, i) in l.lines" :key="i" :x="l.at[0]" :y="l.at[1] + 17 + i * 15">{{ line }}</text>
          </g>
          <component :is="part.labels" v-if="part.labels" />
        </g>
        <g v-for="p in pinned" :key="p.text" class="pin" :transform="`translate(${p.at.join()})`"><circle r="11" /><text y="4.5">{{ p.text }}</text></g>
        <circle v-if="mark" class="mark" :cx="mark[0]" :cy="mark[1]" r="14" />
        <ScaleBar :view="v" />
      </svg>
      <LevelBar :editable="part.drawing ?? false" />
      <div class="north" :style="{ rotate: `${north}deg` }" :title="`North is ${show('angle', north, units)} clockwise from the top of the sheet`" role="img" :aria-label="`North is ${show('angle', north, units)} clockwise from the top`">N</div>
      <component :is="part.legend" v-if="part.legend" />
      <ElButtonGroup class="zoom" role="group" aria-label="Zoom">
        <ElButton size="small" aria-label="Zoom in" @click="v.zoom(1.25)">+</ElButton>
        <ElButton size="small" aria-label="Zoom out" @click="v.zoom(0.8)">−</ElButton>
        <ElButton size="small" aria-label="Show all" @click="v.fit(corners())">All</ElButton>
      </ElButtonGroup>
      <p v-if="part.drawing && job && job.rooms.length === 0 && box.active === box.tools[0] && !underlay" class="empty">
        An empty sheet. Press <b>R</b> and click two corners, or type a width and a depth above.
      </p>
    </div>
  </section>
</template>

<style scoped>
.sheet { display: flex; flex-direction: column; min-height: 0; min-width: 0; background: var(--sheet); }
.back { padding: 5px 8px; border-bottom: 1px solid var(--line); background: var(--paper); }
.holder { flex: 1; position: relative; min-height: 0; overflow: hidden; background-image: radial-gradient(var(--faint) 1px, transparent 1px); background-size: 24px 24px; }
.plan { position: absolute; inset: 0; display: block; touch-action: none; }
.plan.cross { cursor: crosshair; }
/* a page that scrolls is scrolled by one finger; two fingers move the sheet */
@media (max-width: 900px) {
  .plan.pick { touch-action: pan-y; }
  .plan.pick :deep(:is(.chosen, .corner, .grips circle, .split circle)) { touch-action: none; }
}
.underlay { position: absolute; left: 0; top: 0; max-width: none; transform-origin: 0 0; pointer-events: none; will-change: transform; }
.traced :deep(.floor), .traced :deep(.mass) { fill-opacity: 0.45; }
.north { position: absolute; right: 12px; top: 10px; width: 26px; height: 34px; text-align: center; font-weight: 650; padding-top: 12px; pointer-events: none; }
.north::before { content: ""; position: absolute; left: 9px; top: 0; border: 4px solid transparent; border-bottom: 11px solid var(--ink); border-top: 0; }
.labels { pointer-events: none; }
.labels :deep(text) { text-anchor: middle; font-size: 12px; fill: var(--ink); paint-order: stroke; stroke: var(--floor); stroke-width: 3.5px; stroke-linejoin: round; }
.labels .name { font-weight: 650; font-size: 14px; }
.labels .name.small { font-size: 11px; }
.mark { fill: none; stroke: var(--ember); stroke-width: 3; pointer-events: none; }
.pin { pointer-events: none; }
.pin circle { fill: var(--ember); stroke: var(--sheet); stroke-width: 2; }
.pin text { fill: var(--on-ember); text-anchor: middle; font-weight: 650; font-size: 13px; }
.zoom { position: absolute; right: 8px; bottom: 8px; }
.empty { position: absolute; left: 0; right: 0; top: 38%; text-align: center; color: var(--soft); pointer-events: none; font-size: 16px; }
</style>

<style>
.legend { width: max-content; max-width: calc(100% - 16px); flex-wrap: wrap; position: absolute; left: 50%; transform: translateX(-50%); bottom: 8px; display: flex; align-items: center; background: var(--sheet); border: 1px solid var(--line); border-radius: 3px; padding: 2px 10px; font-size: 12px; }
.legend i { width: 12px; height: 10px; }
.legend i.wide { width: 26px; height: 12px; }
.legend span { margin: 0 6px; white-space: nowrap; }
@media (max-width: 900px) { .legend { bottom: auto; top: 4px; left: 8px; transform: none; font-size: 11px; } }
</style>
