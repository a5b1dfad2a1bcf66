<script setup lang="ts">
/** Tools of the sheet, and the typed sizes of what is being drawn: a room can be made without a pointer here. */
import { computed, nextTick, ref, watch } from "vue";
import type { Point } from "../api/client";
import { clean, lShape, rectangle } from "../job/edit";
import { store } from "../job/store";
import { show, parseLength } from "../units";
import { PARTITION_M } from "./snap";
import { isOpening, TOOLS, type Tools } from "./tools";
import Quantity from "../components/Quantity.vue";

const props = defineProps<{ tools: Tools }>();
const draw = props.tools.draw;

const isRoom = computed(() => draw.tool === "room" || draw.tool === "l-room");
const typed = ref({ x: "", y: "", width: "", depth: "", notchWidth: "", notchDepth: "" });
const wrong = ref("");
const widthField = ref<HTMLInputElement>();

/** A corner for a typed room: right of everything drawn so far, a partition away. */
const free = computed<Point>(() => {
  const rooms = store.job.value?.rooms ?? [];
  const corners = rooms.flatMap((r) => r.outline);
  if (corners.length === 0) return [0, 0];
  return [clean(Math.max(...corners.map((p) => p[0])) + PARTITION_M), clean(Math.min(...(rooms.at(-1)?.outline ?? corners).map((p) => p[1])))];
});

watch(
  () => [draw.tool, draw.start] as const,
  async ([tool, start]) => {
    wrong.value = "";
    typed.value = { x: "", y: "", width: "", depth: "", notchWidth: "", notchDepth: "" };
    if ((tool === "room" || tool === "l-room") && start) {
      await nextTick();
      widthField.value?.focus();
    }
  },
);

const units = store.units;
const size = (text: string) => parseLength(text, units.value);

function create() {
  const t = typed.value;
  const from = draw.start ?? free.value;
  const x = t.x ? size(t.x) : from[0];
  const y = t.y ? size(t.y) : from[1];
  const [width, depth] = [size(t.width), size(t.depth)];
  if (x === null || y === null) wrong.value = "The corner does not read as two lengths.";
  else if (width === null || depth === null) wrong.value = "Type width and depth, for instance 4.2 m and 13' 9 1/2\".";
  else if (width < 0.3 || depth < 0.3 || width > 200 || depth > 200) wrong.value = "Width and depth must be between 0.3 m and 200 m.";
  else {
    const a: Point = [x, y];
    // a typed size follows the pointer's direction from the corner clicked
    const p = draw.start && draw.pointer ? draw.pointer : null;
    const b: Point = [x + (p && p[0] < x ? -width : width), y + (p && p[1] < y ? -depth : depth)];
    if (draw.tool === "l-room") {
      const [w, d] = [size(t.notchWidth), size(t.notchDepth)];
      if (w === null || d === null || w <= 0 || d <= 0 || w >= width || d >= depth) {
        wrong.value = "Type the notch's width and depth, both smaller than the room's.";
        return;
      }
      const box = rectangle(a, b);
      props.tools.addRoom(lShape(a, b, [box[2]![0] - w, box[2]![1] - d]));
    } else props.tools.addRoom(rectangle(a, b));
    props.tools.choose("select");
  }
}

const hint = computed(() => {
  if (draw.problem) return draw.problem;
  if (isRoom.value) {
    if (!draw.start) return "Click the first corner, or type the sizes.";
    if (draw.tool === "l-room" && draw.end) return "Click the notch's inner corner.";
    return "Click the opposite corner, or type the sizes.";
  }
  if (isOpening(draw.tool)) return "Click the wall it is in.";
  if (draw.tool === "keep_out") return draw.start ? "Click its opposite corner." : "Click a corner of the place that gets no tube.";
  if (draw.tool === "manifold") return "Click the wall on which it hangs.";
  return "";
});
</script>

<template>
  <div class="bar">
    <div class="tools" role="toolbar" aria-label="Tools of the sheet">
      <button
        v-for="t in TOOLS" :key="t.tool" class="tool" :class="{ on: draw.tool === t.tool }" :aria-pressed="draw.tool === t.tool"
        :title="`${t.name} (${t.key})`" @click="tools.choose(t.tool)">
        {{ t.name }}<kbd aria-hidden="true">{{ t.key }}</kbd>
      </button>
    </div>
    <!-- floats over the sheet, so that choosing a tool does not move the plan -->
    <div v-if="hint || isRoom" class="float">
      <form v-if="isRoom" class="typed" aria-label="Typed room" @submit.prevent="create" @keydown.esc="tools.choose('select')">
        <label>from <input v-model="typed.x" aria-label="Corner, to the right" :placeholder="show('length', (draw.start ?? free)[0], units)" /></label>
        <input v-model="typed.y" aria-label="Corner, upward" :placeholder="show('length', (draw.start ?? free)[1], units)" />
        <label>width <input ref="widthField" v-model="typed.width" aria-label="Width" /></label>
        <label>depth <input v-model="typed.depth" aria-label="Depth" /></label>
        <template v-if="draw.tool === 'l-room'">
          <label>notch <input v-model="typed.notchWidth" aria-label="Notch width" /></label>
          <label>by <input v-model="typed.notchDepth" aria-label="Notch depth" /></label>
        </template>
        <button class="tool" type="submit">Add room</button>
        <span v-if="wrong" class="wrong" role="alert">{{ wrong }}</span>
      </form>
      <div v-else-if="isOpening(draw.tool)" class="typed">
        <label>width <Quantity v-model="draw.width" quantity="length" label="Opening width" :min="0.05" :max="50" /></label>
        <label>height <Quantity v-model="draw.height" quantity="length" label="Opening height" :min="0.02" :max="20" /></label>
      </div>
      <p v-if="hint" class="hint" role="status">{{ hint }}</p>
    </div>
  </div>
</template>

<style scoped>
.bar { position: relative; z-index: 3; border-bottom: 1px solid var(--line); padding: 4px 8px; background: var(--paper); display: flex; flex-wrap: wrap; gap: 4px 12px; align-items: center; }
.float { position: absolute; top: 100%; left: 0; display: flex; flex-wrap: wrap; gap: 4px 12px; align-items: center; padding: 4px 10px; background: var(--paper); border: 1px solid var(--line); border-top: 0; border-left: 0; }
.tools { display: flex; flex-wrap: wrap; gap: 2px; }
.tool { border: 1px solid transparent; background: none; border-radius: 3px; padding: 3px 7px; cursor: pointer; }
.tool:hover { border-color: var(--line); }
.tool.on { background: var(--ember); color: #fff; }
.typed .tool { border-color: var(--line); background: var(--sheet); }
kbd { font: inherit; font-size: 11px; margin-left: 5px; opacity: 0.75; }
.typed { display: flex; flex-wrap: wrap; gap: 4px 8px; align-items: center; }
.typed input { width: 84px; }
.hint { margin: 0; color: var(--soft); }
.wrong { color: var(--ember); }
</style>
