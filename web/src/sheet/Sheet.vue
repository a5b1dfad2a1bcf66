<script setup lang="ts">
/** The drafting sheet: the plan of the level with what the station adds to it. */
import { computed, onBeforeUnmount, onMounted, ref, watch } from "vue";
import type { Point, Station } from "../api/client";
import * as edit from "../job/edit";
import { store } from "../job/store";
import { show } from "../units";
import FloorPicture from "../loops/FloorPicture.vue";
import LoopBar, { type Picture } from "../loops/LoopBar.vue";
import LoopOverlay from "../loops/LoopOverlay.vue";
import { paint, ramp as mapRamp, rangeOf, useFloorMap } from "../loops/floorMap";
import { LOOP_TOOLS, useLoopTools } from "../loops/tools";
import DrawBar from "./DrawBar.vue";
import PlanLoops from "./PlanLoops.vue";
import LevelBar from "./LevelBar.vue";
import PlanRooms from "./PlanRooms.vue";
import { isOpening, TOOLS, useTools } from "./tools";
import { CAUSE_TINTS, CAUSES } from "../components/words";
import { account, heatBy, type Cause } from "../job/loss";
import { matrix } from "./underlay";
import { useView } from "./view";
import { tagPlaces, waterColour, waterRange } from "./water";

const props = defineProps<{ station: Station }>();
const emit = defineEmits<{ compare: [] }>();

const holder = ref<HTMLElement>();
const svg = ref<SVGSVGElement>();
const v = useView();
const tools = useTools(v);
const draw = tools.draw;
/** At station Loops the pointer shapes loops. */
const shaping = useLoopTools(v);
const hand = shaping.hand;
const atLoops = computed(() => props.station === "loops");
const picture = ref<Picture>("none");
const comparing = computed({ get: () => false, set: () => emit("compare") });
const { state, units } = store;
const { levelJob: job, levelDesign: design } = store;
const bar = ref<InstanceType<typeof DrawBar>>();

const corners = () => (job.value?.rooms ?? []).flatMap((r) => r.outline);
let fitted = "";
const watcher = new ResizeObserver(() => {
  if (!holder.value) return;
  v.view.width = holder.value.clientWidth;
  v.view.height = holder.value.clientHeight;
  if (fitted !== state.id && job.value) {
    fitted = state.id;
    v.fit(corners());
  }
});
onMounted(() => watcher.observe(holder.value!));
onBeforeUnmount(() => watcher.disconnect());
watch(() => state.selection?.at, (at) => at && reveal(at));

function reveal(at: [number, number]) {
  const [x, y] = v.toScreen(at);
  if (x < 40 || y < 40 || x > v.view.width - 40 || y > v.view.height - 40) Object.assign(v.view, { x: at[0], y: at[1] });
}

const local = (e: MouseEvent): Point => {
  const box = svg.value!.getBoundingClientRect();
  return [e.clientX - box.left, e.clientY - box.top];
};
function down(e: PointerEvent) {
  if (e.button === 2) return;
  svg.value?.setPointerCapture(e.pointerId);
  svg.value?.focus({ preventScroll: true });
  if (atLoops.value) shaping.down(local(e), e.target as Element, e.button, e.altKey);
  else tools.down(local(e), e.target as Element, e.button);
}
function moved(e: PointerEvent) {
  if (atLoops.value) shaping.move(local(e), e.altKey);
  else tools.move(local(e), e.altKey);
}
const up = () => (atLoops.value ? shaping.up() : tools.up());
const cancelled = () => (atLoops.value ? shaping.cancel() : tools.cancel());
const wheel = (e: WheelEvent) => v.zoom(Math.exp(-e.deltaY * 0.0015), local(e));

/** Keys on the sheet: arrows move what is chosen, or the sheet; + and − zoom, 0 shows all. */
function key(e: KeyboardEvent) {
  if (e.ctrlKey || e.metaKey || e.altKey) return;
  const step = (units.value === "us" ? 0.0254 : 0.05) * (e.shiftKey ? 10 : 1);
  const arrows: Record<string, Point> = { ArrowLeft: [-step, 0], ArrowRight: [step, 0], ArrowUp: [0, step], ArrowDown: [0, -step] };
  const by = arrows[e.key];
  if (by) nudge(by);
  else if (e.key === "+" || e.key === "=") v.zoom(1.25);
  else if (e.key === "-") v.zoom(0.8);
  else if (e.key === "0") v.fit(corners());
  else return;
  e.preventDefault();
}

function nudge(by: Point) {
  const s = state.selection;
  if (atLoops.value && s?.kind === "loop" && hand.run >= 0) {
    // at the loops a step is finer than on the plan
    void shaping.nudge([by[0] / 5, by[1] / 5]);
    return;
  }
  if (!s || s.kind === "loop" || s.kind === "job" || atLoops.value) {
    v.pan(-by[0] * 400, by[1] * 400);
    return;
  }
  store.edit(`move ${s.kind}`, (draft) => {
    if (s.kind === "room") edit.moveRoom(draft, s.id, by);
    const mark = draft.marks.find((m) => m.id === s.id);
    if (mark) mark.points = mark.points.map((p) => [edit.clean(p[0]! + by[0]), edit.clean(p[1]! + by[1])]);
    for (const room of draft.rooms) {
      const wall = (edge: number) => edit.walls(room)[edge]!;
      if (s.kind === "wall" && room.id === s.id) edit.moveWall(draft, s.id, s.edge!, by[0] * wall(s.edge!).out[0] + by[1] * wall(s.edge!).out[1]);
      const k = room.keep_outs.find((k) => k.id === s.id);
      if (k) edit.moveKeepOut(k, by);
      const hung = [...room.openings, ...draft.manifolds.filter((m) => m.room_id === room.id)].find((o) => o.id === s.id);
      if (hung) hung.offset_m = edit.clean(Math.max(0, hung.offset_m + by[0] * wall(hung.edge).along[0] + by[1] * wall(hung.edge).along[1]));
    }
  }, `nudge-${s.kind}-${s.id}`);
}

/** Keys anywhere on the page that choose a tool. Returns whether the key was one. */
function toolKey(letter: string): boolean {
  if (atLoops.value) {
    const tool = LOOP_TOOLS.find((t) => t.key.toLowerCase() === letter);
    if (letter === "escape" && shaping.dragging()) shaping.cancel();
    else if (letter === "escape" && hand.tool === "select") store.select(null);
    else if (letter === "escape") shaping.choose("select");
    else if (letter === "enter" && hand.tool === "draw") shaping.finish();
    else if (letter === "," || letter === ".") shaping.step(letter === "." ? 1 : -1);
    else if (tool) shaping.choose(tool.tool);
    else return false;
    return true;
  }
  if (letter === "escape") {
    if (draw.tool !== "select") tools.choose("select");
    else store.select(null);
    return true;
  }
  if (letter === "enter" && draw.tool === "polygon") {
    tools.close();
    return true;
  }
  const t = TOOLS.find((t) => t.key.toLowerCase() === letter);
  if (!t || props.station !== "rooms") return false;
  tools.choose(t.tool);
  return true;
}
defineExpose({ toolKey, fit: () => v.fit(corners()), zoom: v.zoom });

const rooms = computed(() => design.value?.rooms ?? []);
const centre = (outline: Point[]): Point => {
  // middle of the widest horizontal strip: inside also for an L
  const ys = [...new Set(outline.map((p) => p[1]))].sort((a, b) => a - b);
  let best: Point = outline[0]!;
  let most = 0;
  for (let i = 1; i < ys.length; i++) {
    const y = (ys[i]! + ys[i - 1]!) / 2;
    const xs = outline
      .flatMap((a, k) => {
        const b = outline[(k + 1) % outline.length]!;
        return a[1] > y !== b[1] > y ? [a[0] + ((b[0] - a[0]) * (y - a[1])) / (b[1] - a[1])] : [];
      })
      .sort((a, b) => a - b);
    for (let k = 0; k + 1 < xs.length; k += 2) {
      const size = (xs[k + 1]! - xs[k]!) * (ys[i]! - ys[i - 1]!);
      if (size > most) [most, best] = [size, [(xs[k]! + xs[k + 1]!) / 2, y]];
    }
  }
  return best;
};

const shades = computed<Record<string, string>>(() => {
  if (props.station !== "heat_loss" && props.station !== "floor") return {};
  const of = (r: (typeof rooms.value)[number]) => (props.station === "heat_loss" ? r.flux_needed_w_m2 : (r.surface_mean_c ?? 0));
  const [low, high] = shadeRange.value;
  return Object.fromEntries(shaded.value.map((r) => [r.id, shade(high > low ? (of(r) - low) / (high - low) : 0.5)]));
});
const shade = (t: number) => `color-mix(in oklab, #fffdf8, #cf6a3a ${Math.round(8 + 52 * t)}%)`;
// one scale for all levels, so that they can be compared
const shaded = computed(() => (store.design.value?.rooms ?? []).filter((r) => (props.station === "heat_loss" ? r.heated && r.heatable_area_m2 > 0 : r.surface_mean_c)));
const shadeRange = computed<[number, number]>(() => {
  const values = shaded.value.map((r) => (props.station === "heat_loss" ? r.flux_needed_w_m2 : (r.surface_mean_c ?? 0)));
  return [Math.min(...values), Math.max(...values)];
});
const shadeKey = computed(() => {
  if ((props.station !== "heat_loss" && props.station !== "floor") || shaded.value.length === 0) return null;
  const q = props.station === "heat_loss" ? "flux" : "temperature";
  return { low: show(q, shadeRange.value[0], units.value), high: show(q, shadeRange.value[1], units.value) };
});

const titles = computed<Record<string, string>>(() => (props.station === "heat_loss" ? Object.fromEntries(rooms.value.map((r) => [r.id, account(r, units.value)])) : {}));
/** A bar of causes under each room's figures, all to one scale. */
const bars = computed(() => {
  if (props.station !== "heat_loss") return [];
  const positive = (r: (typeof rooms.value)[number]) => (Object.keys(CAUSES) as Cause[]).map((c) => ({ c, w: Math.max(0, heatBy(r, c)) })).filter((p) => p.w > 0);
  const most = Math.max(1, ...(store.design.value?.rooms ?? []).map((r) => positive(r).reduce((s, p) => s + p.w, 0)));
  return labels.value.flatMap((l) => {
    const d = rooms.value.find((r) => r.id === l.id);
    if (!d?.heated || l.lines.length < 2) return [];
    let x = 0;
    const parts = positive(d).map((p) => ({ ...p, x: (x += (p.w / most) * 110) - (p.w / most) * 110, width: (p.w / most) * 110 }));
    return [{ id: l.id, at: [l.at[0] - x / 2, l.at[1] - 25] as Point, parts }];
  });
});

const labels = computed(() =>
  (job.value?.rooms ?? []).map((room) => {
    const d = rooms.value.find((r) => r.id === room.id);
    const lines: string[] = [];
    if (d && !d.heated && props.station === "heat_loss") lines.push(`unheated, settles at ${show("temperature", d.temperature_c, units.value)}`);
    else if (d && props.station === "heat_loss") lines.push(show("heat", d.heat_loss_w, units.value), `${show("flux", d.flux_needed_w_m2, units.value)} of heatable floor`);
    else if (d && props.station === "floor" && room.floor) lines.push(`surface ${show("temperature", d.surface_mean_c, units.value)}`, `needs ${show("temperature", d.supply_needed_c, units.value)} water`);
    else if (d && (props.station === "rooms" || props.station === "site")) lines.push(`${show("area", d.area_m2, units.value)} · ${room.unheated ? "unheated" : show("temperature", room.room_c, units.value)}`);
    const wide = v.view.scale * Math.max(...room.outline.map((p) => p[0])) - v.view.scale * Math.min(...room.outline.map((p) => p[0]));
    return { id: room.id, name: room.name, at: v.toScreen(centre(room.outline)), lines: wide > 90 ? lines : [], small: wide < 60 };
  }),
);

/** From this zoom on, pixels to the metre, tags at the loops tell the length too. */
const LONG_TAGS = 42;
const showLoops = computed(() => ["rooms", "loops", "water"].includes(props.station) && design.value !== null);
const showNames = computed(() => props.station !== "loops" && props.station !== "water");
const places = computed(() => (design.value ? tagPlaces(design.value.loops) : []));
const tags = computed(() =>
  showLoops.value && props.station !== "rooms"
    ? places.value.map((t) => {
        const l = design.value?.loops.find((l) => l.id === t.id);
        const more = props.station === "water" ? show("flow", l?.flow_l_min, units.value) : v.view.scale > LONG_TAGS ? show("tube", l?.length_m, units.value) : "";
        const title = l && `${l.tag}: ${show("tube", l.length_m, units.value)}, ${show("share", l.length_m / l.limit_m, units.value)} of the limit, leaders ${show("tube", l.leader_length_m, units.value)}, ${show("temperature", l.supply_c, units.value)} to ${show("temperature", l.return_c, units.value)}${l.by_hand ? ", by hand" : l.locked ? ", locked" : ""}`;
        return { id: t.id, at: v.toScreen(t.at), text: more ? `${t.tag} ${more}` : t.tag, half: more ? (props.station === "water" ? 42 : 32) : 14, title };
      })
    : [],
);
watch(() => state.selection?.id, () => (hand.run = -1));
watch(() => props.station, () => shaping.choose("select"));
const wantedMap = computed(() => (atLoops.value ? picture.value : "none"));
const { map, problem: mapProblem } = useFloorMap(wantedMap);
const mapRange = computed(() => (map.value && wantedMap.value !== "none" ? rangeOf(map.value, wantedMap.value, store.job.value!.rules.surface_limit_c) : null));
const mapPicture = computed(() => (map.value && mapRange.value && wantedMap.value !== "none" ? paint(map.value, wantedMap.value, mapRange.value) : ""));
const mapKey = computed(() => {
  if (!mapRange.value || wantedMap.value === "none") return null;
  const q = wantedMap.value === "distance" ? "size" : "temperature";
  const of = wantedMap.value;
  return { low: show(q, mapRange.value[0], units.value), high: show(q, mapRange.value[1], units.value), words: of === "distance" ? "from the nearest tube" : "surface of the floor", colours: Array.from({ length: 10 }, (_, i) => `rgb(${mapRamp(of, (i + 0.5) / 10).join(" ")})`) };
});

const range = computed(() => waterRange(design.value?.loops ?? []));
const ramp = Array.from({ length: 12 }, (_, i) => waterColour((i + 0.5) / 12));

const chosenRoom = computed(() => {
  const s = state.selection;
  return props.station === "rooms" && (s?.kind === "room" || s?.kind === "wall") ? job.value?.rooms.find((r) => r.id === s.id) : undefined;
});
const sizes = computed(() =>
  chosenRoom.value
    ? edit.walls(chosenRoom.value).map((w) => ({
        edge: w.edge,
        at: v.toScreen([(w.a[0] + w.b[0]) / 2 - w.out[0] * (16 / v.view.scale), (w.a[1] + w.b[1]) / 2 - w.out[1] * (14 / v.view.scale)]),
        text: show("length", w.length, units.value),
        // along its wall, readable from below or from the right
        turn: ((-Math.atan2(w.along[1], w.along[0]) * 180) / Math.PI + 450) % 180 - 90,
      }))
    : [],
);
const preview = computed(() => {
  const { start, end, pointer, tool } = draw;
  if (!start || !pointer || tool === "polygon") return null;
  const outline = tool === "l-room" && end ? edit.lShape(start, end, pointer) : edit.rectangle(start, pointer);
  const b = end ?? pointer;
  return {
    points: outline.map((p) => v.toScreen(p).join()).join(" "),
    at: v.toScreen([(start[0] + b[0]) / 2, (start[1] + b[1]) / 2]),
    text: `${show("length", Math.abs(b[0] - start[0]), units.value)} × ${show("length", Math.abs(b[1] - start[1]), units.value)}`,
  };
});
const hovered = computed(() => {
  const near = draw.near;
  if (!near || draw.tool === "select") return null;
  const half = isOpening(draw.tool) ? draw.width / 2 : 0.25;
  const at = (s: number): Point => v.toScreen([near.wall.a[0] + near.wall.along[0] * s, near.wall.a[1] + near.wall.along[1] * s]);
  return { a: at(near.along - half), b: at(near.along + half) };
});
/** Rooms of the storey below, to draw the next one over them. */
const ghost = computed(() => (props.station === "rooms" ? store.roomsBelow.value : []));
/** Corners of a shape being drawn, a cut, the points of a picture, with what the pointer would add. */
const trail = computed(() => {
  const { tool, marks, pointer } = draw;
  let points: Point[] = [];
  if (tool === "split" && draw.cut) {
    const end = tools.cutEnd();
    points = [tools.onWall(draw.cut), ...(end ? [end] : [])];
  } else if (marks.length && (tool === "polygon" || tool === "saw_cut" || tool.startsWith("picture"))) {
    points = pointer && !(tool.startsWith("picture") && marks.length === 2) ? [...marks, pointer] : marks;
  }
  if (points.length === 0) return null;
  const [a, b] = points.slice(-2) as [Point, Point | undefined];
  const screen = points.map(v.toScreen);
  return {
    dots: screen.slice(0, tool === "split" ? 2 : marks.length),
    line: screen.map((p) => p.join()).join(" "),
    closed: tool === "polygon" && marks.length > 1,
    at: b ? v.toScreen([(a[0] + b[0]) / 2, (a[1] + b[1]) / 2]) : screen[0]!,
    text: b && !tool.startsWith("picture") ? show("length", Math.hypot(b[0] - a[0], b[1] - a[1]), units.value) : "",
  };
});
const underlay = computed(() => store.level.value?.underlay ?? null);
/** North on the plan, clockwise from its top. */
const north = computed(() => store.job.value?.site.north_deg ?? 0);
async function drop(e: DragEvent) {
  const file = e.dataTransfer?.files[0];
  if (file && props.station === "rooms") await bar.value?.drop(file);
}
const mark = computed(() => (state.selection?.at ? v.toScreen(state.selection.at) : null));
/** A bar of a round length for the scale. */
const scaleBar = computed(() => {
  const options = units.value === "us" ? [1, 2, 5, 10, 20, 50].map((f) => f * 0.3048) : [0.5, 1, 2, 5, 10, 20];
  const length = options.find((o) => o * v.view.scale > 60) ?? options.at(-1)!;
  return { px: length * v.view.scale, text: units.value === "us" ? `${Math.round(length / 0.3048)} ft` : `${length} m` };
});
</script>

<template>
  <section class="sheet" aria-label="Sheet">
    <LoopBar v-if="atLoops" v-model:picture="picture" v-model:comparing="comparing" :tools="shaping" />
    <DrawBar v-if="station === 'rooms'" ref="bar" :tools="tools" :view="v" @read="v.fit(corners())" />
    <div ref="holder" class="holder" @dragover.prevent @drop.prevent="drop">
      <img v-if="underlay" class="underlay" :src="`/api/files/${underlay.file_id}`" alt="" draggable="false" :style="{ width: `${underlay.width_px}px`, height: `${underlay.height_px}px`, transform: matrix(underlay, v), opacity: station === 'rooms' ? underlay.strength : underlay.strength * 0.4 }" />
      <svg
        ref="svg" :width="v.view.width" :height="v.view.height" tabindex="0" role="application"
        aria-label="Plan. Arrow keys move what is chosen, plus and minus zoom, 0 shows all."
        :class="(atLoops ? hand.tool : draw.tool) === 'select' ? 'pick' : 'cross'"
        @mousedown.prevent @pointerdown="down" @pointermove="moved" @pointerup="up" @pointercancel="cancelled"
        @wheel.prevent="wheel" @keydown="key">
        <g v-if="job" :transform="v.matrix.value" :class="{ traced: underlay && station === 'rooms' }">
          <polygon v-for="r in ghost" :key="r.id" class="ghost" :points="r.outline.map((p) => p.join()).join(' ')" />
          <PlanRooms :job="job" :design="design" :selection="state.selection" :shades="shades" :titles="titles" />
          <FloorPicture v-if="mapPicture && map" :map="map" :picture="mapPicture" />
          <PlanLoops v-if="showLoops && design" :design="design" :selection="state.selection" :faded="station === 'rooms' || mapPicture !== ''" />
          <LoopOverlay v-if="atLoops" :tools="shaping" :scale="v.view.scale" />
          <g v-if="chosenRoom">
            <circle
              v-for="(p, i) in chosenRoom.outline" :key="i" class="corner" :cx="p[0]" :cy="p[1]" :r="6 / v.view.scale"
              data-kind="corner" :data-id="chosenRoom.id" :data-corner="i" />
          </g>
        </g>
        <g class="labels" :class="{ quiet: !showNames }">
          <g v-for="l in labels" :key="l.id">
            <text v-if="showNames" :x="l.at[0]" :y="l.at[1]" class="name" :class="{ small: l.small }">{{ l.name }}</text>
            <text v-for="(line, i) in l.lines" :key="i" :x="l.at[0]" :y="l.at[1] + 17 + i * 15">{{ line }}</text>
          </g>
          <g v-for="b in bars" :key="`b${b.id}`" class="bar" :transform="`translate(${b.at[0]} ${b.at[1]})`">
            <rect v-for="p in b.parts" :key="p.c" :x="p.x" y="0" :width="p.width" height="8" :fill="CAUSE_TINTS[p.c]" />
          </g>
          <g v-for="s in sizes" :key="`s${s.edge}`"><text class="size" :transform="`translate(${s.at[0]} ${s.at[1]}) rotate(${s.turn})`" dy="4">{{ s.text }}</text></g>
          <g v-for="t in tags" :key="t.id" class="tag" data-kind="loop" :data-id="t.id">
            <title>{{ t.title }}</title>
            <rect :x="t.at[0] - t.half" :y="t.at[1] - 9" :width="2 * t.half" height="18" rx="9" />
            <text :x="t.at[0]" :y="t.at[1] + 4">{{ t.text }}</text>
          </g>
        </g>
        <g v-if="preview" class="preview">
          <polygon :points="preview.points" />
          <text :x="preview.at[0]" :y="preview.at[1]">{{ preview.text }}</text>
        </g>
        <g v-if="trail" class="preview">
          <polygon v-if="trail.closed" :points="trail.line" />
          <polyline :points="trail.line" />
          <circle v-for="(p, i) in trail.dots" :key="i" :cx="p[0]" :cy="p[1]" r="4" />
          <text :x="trail.at[0]" :y="trail.at[1] - 6">{{ trail.text }}</text>
        </g>
        <line v-if="hovered" class="hovered" :x1="hovered.a[0]" :y1="hovered.a[1]" :x2="hovered.b[0]" :y2="hovered.b[1]" />
        <g v-if="draw.guides.x !== null || draw.guides.y !== null" class="guides">
          <line v-if="draw.guides.x !== null" :x1="v.toScreen([draw.guides.x, 0])[0]" :x2="v.toScreen([draw.guides.x, 0])[0]" y1="0" :y2="v.view.height" />
          <line v-if="draw.guides.y !== null" :y1="v.toScreen([0, draw.guides.y])[1]" :y2="v.toScreen([0, draw.guides.y])[1]" x1="0" :x2="v.view.width" />
        </g>
        <circle v-if="mark" class="mark" :cx="mark[0]" :cy="mark[1]" r="14" />
        <g class="scale" :transform="`translate(14 ${v.view.height - 14})`">
          <path :d="`M0-5V0H${scaleBar.px}V-5`" /><text x="4" y="-8">{{ scaleBar.text }}</text>
        </g>
      </svg>
      <LevelBar :editable="station === 'rooms'" />
      <div class="north" :style="{ rotate: `${north}deg` }" :title="`North is ${show('angle', north, units)} clockwise from the top of the sheet`" role="img" :aria-label="`North is ${show('angle', north, units)} clockwise from the top`">N</div>
      <div v-if="mapKey" class="key" :aria-label="`Key: ${mapKey.words}`"><span>{{ mapKey.low }}</span><i v-for="c in mapKey.colours" :key="c" :style="{ background: c }"></i><span>{{ mapKey.high }} {{ mapKey.words }}</span></div>
      <div v-else-if="mapProblem && wantedMap !== 'none'" class="key" role="alert">{{ mapProblem }}</div>
      <div v-else-if="showLoops && station !== 'rooms' && design?.loops.length" class="key" aria-label="Key of water temperatures">
        <span>{{ show("temperature", range[0], units) }}</span>
        <i v-for="c in ramp" :key="c" :style="{ background: c }"></i>
        <span>{{ show("temperature", range[1], units) }}</span>
        <span class="way"><b></b> supply</span><span class="way back"><b></b> return</span>
      </div>
      <div v-if="shadeKey" class="key" aria-label="Key of the shades">
        <span>{{ shadeKey.low }}</span><i v-for="n in 6" :key="n" class="wide" :style="{ background: shade((n - 0.5) / 6) }"></i><span>{{ shadeKey.high }} {{ station === "heat_loss" ? "of heatable floor" : "surface" }}</span>
      </div>
      <div class="zoom" role="group" aria-label="Zoom">
        <button aria-label="Zoom in" @click="v.zoom(1.25)">+</button>
        <button aria-label="Zoom out" @click="v.zoom(0.8)">−</button>
        <button aria-label="Show all" @click="v.fit(corners())">All</button>
      </div>
      <p v-if="job && job.rooms.length === 0 && !draw.start" class="empty">
        An empty sheet. Press <b>R</b> and click two corners, or type a width and a depth above.
      </p>
    </div>
  </section>
</template>

<style scoped>
.sheet { display: flex; flex-direction: column; min-height: 0; min-width: 0; background: var(--sheet); }
.holder { flex: 1; position: relative; min-height: 0; overflow: hidden; background-image: radial-gradient(var(--faint) 1px, transparent 1px); background-size: 24px 24px; }
svg { position: absolute; inset: 0; display: block; touch-action: none; }
svg.cross { cursor: crosshair; }
.underlay { position: absolute; left: 0; top: 0; max-width: none; transform-origin: 0 0; pointer-events: none; will-change: transform; }
.ghost { fill: none; stroke: #a79a86; stroke-width: 1; stroke-dasharray: 3 4; vector-effect: non-scaling-stroke; pointer-events: none; }
.traced :deep(.floor) { fill-opacity: 0.45; }
.traced :deep(.mass) { fill-opacity: 0.45; }
.north { position: absolute; right: 12px; top: 10px; width: 26px; height: 34px; text-align: center; font-weight: 650; padding-top: 12px; pointer-events: none; clip-path: none; }
.north::before { content: ""; position: absolute; left: 9px; top: 0; border: 4px solid transparent; border-bottom: 11px solid var(--ink); border-top: 0; }
.preview polyline { fill: none; stroke: var(--ember); stroke-width: 1.8; }
.preview circle { fill: var(--sheet); stroke: var(--ember); stroke-width: 2; }
.key i.wide { width: 26px; height: 12px; }
.corner { fill: var(--sheet); stroke: var(--ember); stroke-width: 2; vector-effect: non-scaling-stroke; cursor: move; }
.labels { pointer-events: none; }
.labels text { text-anchor: middle; font-size: 12px; fill: var(--ink); paint-order: stroke; stroke: #fffdf8; stroke-width: 3.5px; stroke-linejoin: round; }
.labels .name { font-weight: 650; font-size: 14px; }
.labels .name.small { font-size: 11px; }
.labels .size { fill: var(--ember); font-weight: 600; }
.labels .bar rect { stroke: #fffdf8; stroke-width: 0.7; }
.labels .tag { pointer-events: auto; cursor: pointer; }
.labels .tag rect { fill: var(--sheet); stroke: var(--ink); }
.labels .tag text { stroke: none; font-weight: 650; }
.preview polygon { fill: rgb(168 62 18 / 12%); stroke: var(--ember); stroke-width: 1.5; }
.preview text { text-anchor: middle; font-weight: 650; fill: var(--ember); paint-order: stroke; stroke: #fff; stroke-width: 4px; }
.preview, .hovered, .guides, .mark, .scale { pointer-events: none; }
.hovered { stroke: var(--ember); stroke-width: 7; opacity: 0.6; }
.guides line { stroke: var(--ember); stroke-dasharray: 3 4; opacity: 0.6; }
.mark { fill: none; stroke: var(--ember); stroke-width: 3; }
.scale path { fill: none; stroke: var(--ink); }
.scale text { font-size: 11px; fill: var(--ink); }
.key { width: max-content; max-width: calc(100% - 16px); flex-wrap: wrap; position: absolute; left: 50%; transform: translateX(-50%); bottom: 8px; display: flex; align-items: center; background: var(--sheet); border: 1px solid var(--line); border-radius: 3px; padding: 2px 10px; font-size: 12px; }
.key i { width: 12px; height: 10px; }
.key span { margin: 0 6px; white-space: nowrap; }
.way { display: inline-flex; align-items: center; gap: 5px; }
.way b { width: 24px; height: 3px; background: var(--ink); }
.way.back b { background: repeating-linear-gradient(90deg, var(--ink) 0 5px, transparent 5px 9px); }
.zoom { position: absolute; right: 8px; bottom: 8px; display: flex; gap: 2px; }
.zoom button { background: var(--sheet); border: 1px solid var(--line); border-radius: 3px; min-width: 28px; height: 26px; cursor: pointer; }
@media (max-width: 700px) { .key { bottom: auto; top: 4px; font-size: 11px; } }
.empty { position: absolute; left: 0; right: 0; top: 38%; text-align: center; color: var(--soft); pointer-events: none; font-size: 16px; }
</style>
