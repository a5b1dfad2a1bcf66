<script setup lang="ts">
/** Tools of the sheet, and the typed sizes of what is being drawn: a room can be made without a pointer here. */
import { computed, nextTick, ref, watch } from "vue";
import type { Point } from "../api/client";
import { clean, lShape, rectangle } from "../job/edit";
import ExchangeBar from "./ExchangeBar.vue";
import UnderlayBar from "./UnderlayBar.vue";
import type { View } from "./view";
import { store } from "../job/store";
import { show, parseLength } from "../units";
import { PARTITION_M } from "./snap";
import { isOpening, TOOLS, type Tools } from "./tools";
import Quantity from "../components/Quantity.vue";

const props = defineProps<{ tools: Tools; view: View }>();
defineEmits<{ read: [] }>();
const extra = ref<"" | "picture" | "files">("");
const underlayBar = ref<InstanceType<typeof UnderlayBar>>();
const exchangeBar = ref<InstanceType<typeof ExchangeBar>>();
const draw = props.tools.draw;

watch(
  () => draw.tool,
  // a tool to draw with wants the sheet, not the panel of files
  (tool) => tool !== "select" && !tool.startsWith("picture") && extra.value === "files" && (extra.value = ""),
);

/** A file dropped on the sheet: a picture goes under it, rooms come onto it. */
async function drop(file: File) {
  const rooms = /\.(dxf|geojson|json|csv)$/i.test(file.name);
  extra.value = rooms ? "files" : "picture";
  await nextTick();
  await (rooms ? exchangeBar.value?.read(file) : underlayBar.value?.take(file));
}
defineExpose({ drop });

/** The next corner of a shape by its distance and its direction from the last one. */
const side = ref({ length: "", direction: "", rise: "" });
const lengthField = ref<HTMLInputElement>();
function addSide() {
  const last = draw.marks.at(-1);
  if (!side.value.length && draw.marks.length > 2) return props.tools.close();
  const length = size(side.value.length);
  const direction = Number(side.value.direction.replace("°", "").replace(",", ".") || (draw.marks.length < 2 ? "0" : "NaN"));
  const rise = side.value.rise ? size(side.value.rise) : 0;
  if (length === null || length < 0.05 || length > 200) wrong.value = "Type the wall's length, for instance 4.2 m or 13' 9 1/2\".";
  else if (!Number.isFinite(direction)) wrong.value = "Type its direction in degrees: 0 to the right, 90 up, 180 to the left, -90 down.";
  else if (rise === null || Math.abs(rise) > length / 2) wrong.value = "A curved wall rises at most half of its length.";
  else {
    wrong.value = "";
    if (!last) props.tools.corner(free.value);
    const from = draw.marks.at(-1)!;
    const a = (direction * Math.PI) / 180;
    // a rise to the right of the way bulges out of a room drawn anticlockwise
    props.tools.corner([clean(from[0] + length * Math.cos(a)), clean(from[1] + length * Math.sin(a))], -rise);
    side.value = { length: "", direction: "", rise: "" };
    lengthField.value?.focus();
  }
}

const isRoom = computed(() => draw.tool === "room" || draw.tool === "l-room");
const typed = ref({ x: "", y: "", width: "", depth: "", notchWidth: "", notchDepth: "" });
const wrong = ref("");
const widthField = ref<HTMLInputElement>();

/** A corner for a typed room: right of everything drawn so far, a partition away. */
const free = computed<Point>(() => {
  const rooms = store.levelJob.value?.rooms ?? [];
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
      // a quick second click may have finished the room meanwhile
      if (draw.start === start) widthField.value?.focus();
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
  if (draw.tool === "polygon") return draw.marks.length ? "Click or type the next corner; the first one closes the room." : "Click the first corner, or type the first wall.";
  if (draw.tool === "split") return draw.cut ? "Click the wall where it ends." : "Click the wall where the new partition begins.";
  if (draw.tool === "note") return "Click the spot it is about.";
  if (draw.tool === "saw_cut") return draw.marks.length ? "Click its other end." : "Click one end of the cut.";
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
      <button class="tool" :class="{ on: extra === 'picture' }" :aria-expanded="extra === 'picture'" @click="extra = extra === 'picture' ? '' : 'picture'">Picture</button>
      <button class="tool" :class="{ on: extra === 'files' }" :aria-expanded="extra === 'files'" @click="extra = extra === 'files' ? '' : 'files'">Files</button>
    </div>
    <!-- floats over the sheet, so that choosing a tool does not move the plan -->
    <div class="stack">
    <UnderlayBar v-if="extra === 'picture'" ref="underlayBar" :tools="tools" :view="view" />
    <ExchangeBar v-if="extra === 'files'" ref="exchangeBar" @read="$emit('read')" />
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
      <form v-else-if="draw.tool === 'polygon'" class="typed" aria-label="Typed wall" @submit.prevent="addSide" @keydown.esc="tools.choose('select')">
        <label>wall <input ref="lengthField" v-model="side.length" aria-label="Length of the wall" /></label>
        <label>direction <input v-model="side.direction" class="short" aria-label="Direction of the wall" placeholder="°" /></label>
        <label>bulge <input v-model="side.rise" class="short" aria-label="Rise of a curved wall" placeholder="straight" /></label>
        <button class="tool" type="submit">Add wall</button>
        <button v-if="draw.marks.length > 2" class="tool" type="button" @click="tools.close()">Close the room</button>
        <span v-if="wrong" class="wrong" role="alert">{{ wrong }}</span>
      </form>
      <div v-else-if="isOpening(draw.tool)" class="typed">
        <label>width <Quantity v-model="draw.width" quantity="length" label="Opening width" :min="0.05" :max="50" /></label>
        <label>height <Quantity v-model="draw.height" quantity="length" label="Opening height" :min="0.02" :max="20" /></label>
        <label v-if="draw.tool === 'window'"><input v-model="draw.inRoof" type="checkbox" /> in the roof</label>
        <label v-if="draw.tool === 'window' && !draw.inRoof">sill <Quantity v-model="draw.sill" quantity="length" label="Sill height" :min="0" :max="20" /></label>
      </div>
      <p v-if="hint" class="hint" role="status">{{ hint }}</p>
    </div>
    </div>
  </div>
</template>

<style scoped>
.bar { position: relative; z-index: 3; border-bottom: 1px solid var(--line); padding: 4px 8px; background: var(--paper); display: flex; flex-wrap: wrap; gap: 4px 12px; align-items: center; }
.stack { position: absolute; top: 100%; left: 0; display: flex; flex-direction: column; align-items: flex-start; /* leaves the levels free */ max-width: calc(100% - 140px); }
@media (max-width: 700px) { .stack { max-width: 100%; } }
.float { display: flex; flex-wrap: wrap; gap: 4px 12px; align-items: center; padding: 4px 10px; background: var(--paper); border: 1px solid var(--line); border-top: 0; border-left: 0; }
.tools { display: flex; flex-wrap: wrap; gap: 2px; }
.tool { border: 1px solid transparent; background: none; border-radius: 3px; padding: 3px 7px; cursor: pointer; }
.tool:hover { border-color: var(--line); }
.tool.on { background: var(--ember); color: #fff; }
.typed .tool { border-color: var(--line); background: var(--sheet); }
kbd { font: inherit; font-size: 11px; margin-left: 5px; opacity: 0.75; }
.typed { display: flex; flex-wrap: wrap; gap: 4px 8px; align-items: center; }
.typed input { width: 84px; }
.typed input.short { width: 64px; }
.hint { margin: 0; color: var(--soft); }
.wrong { color: var(--ember); }
</style>
