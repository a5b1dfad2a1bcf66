<script setup lang="ts">
/** Tools of the sheet, and the typed sizes of what is being drawn: a room can be made without a pointer here. */
import { computed, nextTick, ref, watch } from "vue";
import type { Point } from "../../api/client";
import { clean, lShape, rectangle } from "../../job/edit";
import ExchangeBar from "./ExchangeBar.vue";
import UnderlayBar from "./UnderlayBar.vue";
import { store } from "../../job/store";
import { show, parseLength, twoLengths } from "../../units";
import { PARTITION_M } from "../../sheet/snap";
import { glyphs } from "../../kit/glyphs";
import ToolButton from "../../kit/ToolButton.vue";
import { useSheet } from "../../sheet/context";
import ToolBar from "../../sheet/ToolBar.vue";
import { isOpening, type RoomTools } from "./tools";
import QuantityField from "../../kit/QuantityField.vue";
import CheckField from "../../kit/CheckField.vue";

/** `file`: one dropped on the sheet. */
const props = defineProps<{ file: File | null }>();
const sheet = useSheet<RoomTools>();
const tools = sheet.box;
const extra = ref<"" | "picture" | "files">("");
const underlayBar = ref<InstanceType<typeof UnderlayBar>>();
const exchangeBar = ref<InstanceType<typeof ExchangeBar>>();
const draw = tools.hand;

watch(
  () => draw.tool,
  // a tool to draw with wants the sheet, not the panels over it
  (tool) => tool !== "select" && !tool.startsWith("picture") && (extra.value = ""),
);

/** A file dropped on the sheet: a picture goes under it, rooms come onto it. */
async function drop(file: File) {
  const rooms = /\.(dxf|geojson|json|csv)$/i.test(file.name);
  extra.value = rooms ? "files" : "picture";
  await nextTick();
  await (rooms ? exchangeBar.value?.read(file) : underlayBar.value?.take(file));
}
watch(() => props.file, (file) => file && void drop(file));

/** The next corner of a shape by its distance and its direction from the last one. */
const side = ref({ length: "", direction: "", rise: "" });
const lengthField = ref<{ focus(): void }>();
function addSide() {
  const last = draw.marks.at(-1);
  if (!side.value.length && draw.marks.length > 2) return tools.close();
  const length = size(side.value.length);
  const direction = Number(side.value.direction.replace("°", "").replace(",", ".") || (draw.marks.length < 2 ? "0" : "NaN"));
  const rise = side.value.rise ? size(side.value.rise) : 0;
  if (length === null || length < 0.05 || length > 200) wrong.value = "Type the wall's length, for instance 4.2 m or 13' 9 1/2\".";
  else if (!Number.isFinite(direction)) wrong.value = "Type its direction in degrees: 0 to the right, 90 up, 180 to the left, -90 down.";
  else if (rise === null || Math.abs(rise) > length / 2) wrong.value = "A curved wall rises at most half of its length.";
  else {
    wrong.value = "";
    if (!last) tools.corner(free.value);
    const from = draw.marks.at(-1)!;
    const a = (direction * Math.PI) / 180;
    // a rise to the right of the way bulges out of a room drawn anticlockwise
    tools.corner([clean(from[0] + length * Math.cos(a)), clean(from[1] + length * Math.sin(a))], -rise);
    side.value = { length: "", direction: "", rise: "" };
    lengthField.value?.focus();
  }
}

const isRoom = computed(() => draw.tool === "room" || draw.tool === "l-room");
const typed = ref({ x: "", y: "", width: "", depth: "", notchWidth: "", notchDepth: "" });
const wrong = ref("");
const widthField = ref<{ focus(): void }>();

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
  // both in one, as one says them
  const [wide, deep] = t.depth ? [t.width, t.depth] : twoLengths(t.width);
  const [width, depth] = [size(wide), size(deep)];
  if (x === null || y === null) wrong.value = "The corner does not read as two lengths.";
  else if (width === null || depth === null) wrong.value = "Type width and depth, for instance 4.2 m and 13' 9 1/2\".";
  else if (width < 0.3 || depth < 0.3 || width > 200 || depth > 200) wrong.value = `Width and depth must be between ${show("length", 0.3, units.value)} and ${show("length", 200, units.value)}.`;
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
      tools.addRoom(lShape(a, b, [box[2]![0] - w, box[2]![1] - d]));
    } else tools.addRoom(rectangle(a, b));
    tools.choose("select");
    void nextTick(sheet.showNew);
  }
}
</script>

<template>
  <ToolBar label="Tools of the sheet">
    <template #tools>
      <ToolButton name="Picture" :icon="glyphs.picture" :on="extra === 'picture'" expands @click="extra = extra === 'picture' ? '' : 'picture'" />
      <ToolButton name="Files" :icon="glyphs.files" :on="extra === 'files'" expands @click="extra = extra === 'files' ? '' : 'files'" />
    </template>
    <template #stack>
      <UnderlayBar v-if="extra === 'picture'" ref="underlayBar" @laid="sheet.fit()" />
      <ExchangeBar v-if="extra === 'files'" ref="exchangeBar" @read="sheet.fit()" />
      <form v-if="isRoom" class="typed float" aria-label="Typed room" @submit.prevent="create" @keydown.esc="tools.choose('select')">
        <label>from <ElInput v-model="typed.x" size="small" aria-label="Corner, to the right" :placeholder="show('length', (draw.start ?? free)[0], units)" /></label>
        <ElInput v-model="typed.y" size="small" aria-label="Corner, upward" :placeholder="show('length', (draw.start ?? free)[1], units)" />
        <label>width <ElInput ref="widthField" v-model="typed.width" size="small" aria-label="Width" /></label>
        <label>depth <ElInput v-model="typed.depth" size="small" aria-label="Depth" /></label>
        <template v-if="draw.tool === 'l-room'">
          <label>notch <ElInput v-model="typed.notchWidth" size="small" aria-label="Notch width" /></label>
          <label>by <ElInput v-model="typed.notchDepth" size="small" aria-label="Notch depth" /></label>
        </template>
        <ElButton size="small" native-type="submit">Add room</ElButton>
        <span v-if="wrong" class="wrong" role="alert">{{ wrong }}</span>
      </form>
      <form v-else-if="draw.tool === 'polygon'" class="typed float" aria-label="Typed wall" @submit.prevent="addSide" @keydown.esc="tools.choose('select')">
        <label>wall <ElInput ref="lengthField" v-model="side.length" size="small" aria-label="Length of the wall" /></label>
        <label>direction <ElInput v-model="side.direction" size="small" class="short" aria-label="Direction of the wall" placeholder="°" /></label>
        <label>bulge <ElInput v-model="side.rise" size="small" class="short" aria-label="Rise of a curved wall" placeholder="straight" /></label>
        <ElButton size="small" native-type="submit">Add wall</ElButton>
        <ElButton v-if="draw.marks.length > 2" size="small" @click="tools.close()">Close the room</ElButton>
        <span v-if="wrong" class="wrong" role="alert">{{ wrong }}</span>
      </form>
      <div v-else-if="isOpening(draw.tool)" class="typed float">
        <label>width <QuantityField v-model="draw.width" of="Opening.width_m" label="Opening width" /></label>
        <label>height <QuantityField v-model="draw.height" of="Opening.height_m" label="Opening height" /></label>
        <CheckField v-if="draw.tool === 'window'" v-model="draw.inRoof" label="in the roof">in the roof</CheckField>
        <label v-if="draw.tool === 'window' && !draw.inRoof">sill <QuantityField v-model="draw.sill" of="Opening.sill_m" label="Sill height" /></label>
      </div>
    </template>
  </ToolBar>
</template>

<style scoped>
.typed { display: flex; flex-wrap: wrap; gap: 4px 8px; align-items: center; }
.typed .el-input { width: 92px; }
.typed .el-input.short { width: 72px; }
.wrong { color: var(--ember); }
</style>
