<script setup lang="ts">
/** What is chosen, with its figures to type. */
import { computed, ref, watch } from "vue";
import { answer, api, type Beyond, type Floor, type Job, type KeepOut, type Manifold, type Mark, type Opening, type Room } from "../api/client";
import { construction } from "../job/constructions";
import * as edit from "../job/edit";
import { store } from "../job/store";
import LoopPanel from "../loops/LoopPanel.vue";
import LayoutRemedies from "../loops/LayoutRemedies.vue";
import ManifoldPlaces from "../loops/ManifoldPlaces.vue";
import Risers from "../loops/Risers.vue";
import RoomLoops from "../loops/RoomLoops.vue";
import ZoneField from "../loops/ZoneField.vue";
import { PARTITION_M } from "../sheet/snap";
import { show } from "../units";
import BeyondField from "./BeyondField.vue";
import ConstructionField from "./ConstructionField.vue";
import PhotoField from "./PhotoField.vue";
import Quantity from "./Quantity.vue";
import { KEEP_OUTS, MARKS, OPENINGS } from "./words";

const { job, design, state, units } = store;
const sel = computed(() => state.selection);
const room = computed(() => (sel.value?.kind === "room" || sel.value?.kind === "wall" ? job.value?.rooms.find((r) => r.id === sel.value!.id) : undefined));
const owner = computed(() => job.value?.rooms.find((r) => r.openings.some((o) => o.id === sel.value?.id) || r.keep_outs.some((k) => k.id === sel.value?.id)));
const opening = computed(() => (sel.value?.kind === "opening" ? owner.value?.openings.find((o) => o.id === sel.value!.id) : undefined));
const keepOut = computed(() => (sel.value?.kind === "keep_out" ? owner.value?.keep_outs.find((k) => k.id === sel.value!.id) : undefined));
const manifold = computed(() => (sel.value?.kind === "manifold" ? job.value?.manifolds.find((m) => m.id === sel.value!.id) : undefined));
const mark = computed(() => (sel.value?.kind === "mark" ? job.value?.marks.find((m) => m.id === sel.value!.id) : undefined));
const loop = computed(() => (sel.value?.kind === "loop" ? design.value?.loops.find((l) => l.id === sel.value!.id) : undefined));
const wall = computed(() => (sel.value?.kind === "wall" && room.value ? edit.walls(room.value)[sel.value.edge!] : undefined));
const wallWord = computed(() => room.value?.walls.find((w) => w.edge === wall.value?.edge));
const slope = computed(() => room.value?.slopes?.find((s) => s.edge === wall.value?.edge));
const roomName = (id?: string | null) => job.value?.rooms.find((r) => r.id === id)?.name ?? "a room";
const wallSeen = computed(() => {
  const behind = design.value?.walls.filter((w) => w.room_id === room.value?.id && w.edge === wall.value?.edge) ?? [];
  return [...new Set(behind.map((w) => (w.beyond === "room" ? roomName(w.beyond_room_id) : w.beyond)))].join(", ");
});
const found = computed(() => design.value?.rooms.find((r) => r.id === room.value?.id));

const change = (label: string, what: (draft: Job) => void) => store.edit(label, what);
const setRoom = (set: Partial<Room>) => change("change room", (j) => Object.assign(edit.roomOf(j, room.value!.id)!, set));
const find = <T extends { id: string }>(list: T[], id: string) => list.find((x) => x.id === id)!;
const setOpening = (set: Partial<Opening>) => change("change opening", (j) => Object.assign(find(edit.roomOf(j, owner.value!.id)!.openings, opening.value!.id), set));
const setKeepOut = (set: Partial<KeepOut>) => change("change keep-out", (j) => Object.assign(find(edit.roomOf(j, owner.value!.id)!.keep_outs, keepOut.value!.id), set));
const setManifold = (set: Partial<Manifold>) => change("change manifold", (j) => Object.assign(find(j.manifolds, manifold.value!.id), set));
const setMark = (set: Partial<Mark>) => change("change mark", (j) => Object.assign(find(j.marks, mark.value!.id), set));
const setWall = (say: Parameters<typeof edit.setWall>[2]) => change("say of the wall", (j) => edit.setWall(edit.roomOf(j, room.value!.id)!, wall.value!.edge, say));
const setSlope = (s: { knee_m: number; pitch_deg: number } | undefined) => change("slope the ceiling", (j) => edit.setSlope(edit.roomOf(j, room.value!.id)!, wall.value!.edge, s));
const resize = (k: KeepOut, width: number, depth: number) => setKeepOut({ x1_m: edit.clean(k.x0_m + width), y1_m: edit.clean(k.y0_m + depth) });
const value = (e: Event) => (e.target as HTMLInputElement).value;

function heatFloor(on: boolean) {
  const like = job.value?.rooms.find((r) => r.floor)?.floor;
  const usual: Floor = like ?? { build_up_id: "slab", covering_id: "tile", tube_id: "pex-16x2", spacing_core_m: 0.2, spacing_edge_m: 0.2, pattern: "auto" };
  setRoom({ floor: on ? { ...usual } : null });
}

const neighbours = computed(() => {
  const ids = (design.value?.walls ?? []).filter((w) => w.room_id === room.value?.id && w.beyond_room_id).map((w) => w.beyond_room_id!);
  return [...new Set(ids)].filter((id) => job.value?.rooms.some((r) => r.id === id && r.level_id === room.value?.level_id));
});
const partner = ref("");
watch(neighbours, (list) => !list.includes(partner.value) && (partner.value = list[0] ?? ""), { immediate: true });
async function merge() {
  const ids = { first_id: room.value!.id, second_id: partner.value };
  if (await store.editThere("merge rooms", (before) => answer(api.POST("/api/plan/merge", { body: { job: before, ...ids } })), (after) => after as Job))
    store.select({ kind: "room", id: ids.first_id });
}
/** A cut square to the chosen wall. */
const cutAt = ref<number>();
async function split() {
  const ends = room.value && wall.value && cutAt.value !== undefined ? edit.opposite(room.value, wall.value.edge, cutAt.value) : null;
  if (!ends) return void (state.refusal = "A cut from there does not meet the room's other side.");
  const room_id = room.value!.id;
  const new_id = edit.newId(job.value!, "room");
  if (await store.editThere("split room", (before) => answer(api.POST("/api/plan/split", { body: { job: before, room_id, from: ends[0], to: ends[1], wall_m: PARTITION_M, new_id } })), (after) => after as Job))
    store.select({ kind: "room", id: new_id });
}
watch(() => [sel.value?.id, sel.value?.edge], () => {
  state.refusal = "";
  cutAt.value = undefined;
});
</script>

<template>
  <section v-if="sel" class="inspector" aria-label="Chosen">
    <template v-if="room?.floor && !wall && state.station === 'loops'">
      <h2>{{ room.name }}</h2>
      <RoomLoops :room="(room as Room & { floor: Floor })" />
    </template>
    <template v-else-if="room && !wall">
      <h2><input class="title" :value="room.name" aria-label="Room name" maxlength="200" @change="setRoom({ name: value($event) })" /></h2>
      <dl class="facts">
        <dt>Ceiling height</dt><dd><Quantity :model-value="room.height_m" quantity="length" label="Ceiling height" :min="1.5" :max="20" @update:model-value="setRoom({ height_m: $event! })" /></dd>
        <dt>Floor heated</dt><dd><input type="checkbox" :checked="Boolean(room.floor)" aria-label="Floor heated" @change="heatFloor(!room.floor)" /></dd>
        <template v-if="room.floor"><dt>Thermostat zone</dt><dd><ZoneField :room="room" /></dd></template>
        <template v-if="room.floor"><dt>May set the water</dt><dd><ElCheckbox :model-value="room.governs ?? room.use !== 'bath'" aria-label="May set the supply temperature" title="A room that may not gets what the others' water gives it; the rest is said" @change="setRoom({ governs: Boolean($event) })" /></dd></template>
        <dt>Unheated space</dt><dd><input type="checkbox" :checked="Boolean(room.unheated)" aria-label="Unheated space" @change="setRoom({ unheated: room.unheated ? undefined : {} })" /></dd>
        <template v-if="room.unheated">
          <dt>Its temperature</dt><dd><Quantity :model-value="room.unheated.temperature_c" quantity="temperature" label="Temperature of the unheated space" :min="-60" :max="60" :empty="found ? `by its balance ${show('temperature', found.temperature_c, units)}` : 'by its balance'" wide @update:model-value="setRoom({ unheated: { temperature_c: $event } })" /></dd>
        </template>
        <dt>Above</dt><dd><BeyondField :model-value="room.above" label="Above the room" :without="['ground', 'crawl_space']" @update:model-value="setRoom({ above: $event! })" /></dd>
        <dt>Below</dt><dd><BeyondField :model-value="room.below" label="Below the room" @update:model-value="setRoom({ below: $event! })" /></dd>
        <dt>Roof, ceiling</dt><dd><ConstructionField :model-value="room.roof_id" :positions="['roof', 'ceiling']" label="Roof of this room" empty="as the site" @update:model-value="setRoom({ roof_id: $event })" /></dd>
        <template v-if="!room.floor"><dt>Floor</dt><dd><ConstructionField :model-value="room.floor_id" :positions="['floor', 'ceiling']" label="Floor of this room" empty="as the site" @update:model-value="setRoom({ floor_id: $event })" /></dd></template>
        <dt>Air supplied</dt><dd><Quantity :model-value="room.supply_m3_h ?? 0" quantity="airflow" label="Air supplied" hint="From outside by the ventilation" :min="0" :max="100000" @update:model-value="setRoom({ supply_m3_h: $event! })" /></dd>
        <dt>Air extracted</dt><dd><Quantity :model-value="room.extract_m3_h ?? 0" quantity="airflow" label="Air extracted" :min="0" :max="100000" @update:model-value="setRoom({ extract_m3_h: $event! })" /></dd>
      </dl>
      <p v-if="neighbours.length" class="act">
        <label>Merge with <select v-model="partner" aria-label="Merge with"><option v-for="id in neighbours" :key="id" :value="id">{{ roomName(id) }}</option></select></label>
        <button class="do" @click="merge">Merge</button>
      </p>
    </template>
    <template v-else-if="room && wall">
      <h2>{{ room.name }}, {{ edit.wallName(wall, job?.site.north_deg) }}</h2>
      <dl class="facts">
        <dt>Length</dt><dd><Quantity :model-value="wall.length" quantity="length" label="Wall length" :min="0.05" :max="200" hint="Moves the wall after it" @update:model-value="change('set wall length', (j) => edit.setWallLength(j, room!.id, wall!.edge, $event!))" /></dd>
        <dt>Other side</dt><dd><BeyondField :model-value="(wallWord?.beyond as Beyond | undefined) ?? undefined" label="Other side of the wall" :without="['crawl_space']" :empty="`as drawn: ${wallSeen}`" @update:model-value="setWall({ beyond: $event })" /></dd>
        <dt>Construction</dt><dd><ConstructionField :model-value="wallWord?.construction_id" :positions="['wall', 'partition']" label="Construction of this wall" empty="as the site" @update:model-value="setWall({ construction_id: $event })" /></dd>
        <dt>U of this wall</dt><dd><Quantity :model-value="wallWord?.u" quantity="transmittance" label="U of this wall" :min="0.05" :max="8" :empty="wallWord?.construction_id ? 'by its layers' : 'as the site'" @update:model-value="setWall({ u: $event })" /></dd>
        <dt>Ceiling slopes up from it</dt><dd><input type="checkbox" :checked="Boolean(slope)" aria-label="Ceiling slopes up from this wall" @change="setSlope(slope ? undefined : { knee_m: Math.min(1, room!.height_m), pitch_deg: 40 })" /></dd>
        <template v-if="slope">
          <dt>Height at the wall</dt><dd><Quantity :model-value="slope.knee_m" quantity="length" label="Height at the low wall" :min="0" :max="20" @update:model-value="setSlope({ knee_m: $event!, pitch_deg: slope!.pitch_deg })" /></dd>
          <dt>Pitch</dt><dd><Quantity :model-value="slope.pitch_deg" quantity="angle" label="Pitch of the roof" :min="5" :max="85" @update:model-value="setSlope({ knee_m: slope!.knee_m, pitch_deg: $event! })" /></dd>
        </template>
      </dl>
      <p class="act">
        <label>Split the room <Quantity v-model="cutAt" quantity="length" label="Distance of the cut from the corner" :min="0.05" :max="wall.length" empty="from the corner" wide /></label>
        <button class="do" :disabled="cutAt === undefined" @click="split">Split</button>
      </p>
    </template>
    <template v-else-if="opening && owner">
      <h2>{{ OPENINGS[opening.kind] }}, {{ owner.name }}</h2>
      <dl class="facts">
        <dt>Kind</dt><dd><select aria-label="Kind of opening" :value="opening.kind" @change="setOpening({ kind: value($event) as Opening['kind'] })"><option v-for="(word, kind) in OPENINGS" :key="kind" :value="kind">{{ word }}</option></select></dd>
        <dt>Width</dt><dd><Quantity :model-value="opening.width_m" quantity="length" label="Opening width" :min="0.05" :max="50" @update:model-value="setOpening({ width_m: $event! })" /></dd>
        <dt>Height</dt><dd><Quantity :model-value="opening.height_m" quantity="length" label="Opening height" :min="0.02" :max="20" @update:model-value="setOpening({ height_m: $event! })" /></dd>
        <template v-if="opening.kind !== 'roof_window'"><dt>Sill over the floor</dt><dd><Quantity :model-value="opening.sill_m ?? 0" quantity="length" label="Sill height" :min="0" :max="20" @update:model-value="setOpening({ sill_m: $event! })" /></dd></template>
        <dt>From the corner</dt><dd><Quantity :model-value="opening.offset_m" quantity="length" label="Distance from the corner" :min="0" :max="200" @update:model-value="setOpening({ offset_m: $event! })" /></dd>
        <template v-if="['window', 'roof_window', 'outside_door'].includes(opening.kind)">
          <dt>Construction</dt><dd><ConstructionField :model-value="opening.construction_id" :positions="opening.kind === 'outside_door' ? ['door', 'window'] : ['window']" label="Construction of this opening" empty="as the site" @update:model-value="setOpening({ construction_id: $event })" /></dd>
          <dt>U of this one</dt><dd><Quantity :model-value="opening.u" quantity="transmittance" label="U of this opening" :min="0.05" :max="8" :empty="opening.construction_id ? 'by its kind' : 'as the site'" @update:model-value="setOpening({ u: $event })" /></dd>
          <dt>Sun let in (g)</dt><dd><Quantity :model-value="opening.g" quantity="share" label="g-value of this opening" hint="Share of the sun's heat that the glass lets in" :min="0" :max="1" :empty="show('share', construction(opening.construction_id ?? job?.envelope.window_id)?.g, units)" @update:model-value="setOpening({ g: $event })" /></dd>
        </template>
      </dl>
    </template>
    <template v-else-if="keepOut && owner">
      <h2>{{ KEEP_OUTS[keepOut.kind] }}, {{ owner.name }}</h2>
      <dl class="facts">
        <dt>Name</dt><dd><input aria-label="Keep-out name" :value="keepOut.name" maxlength="200" @change="setKeepOut({ name: value($event) })" /></dd>
        <dt>Kind</dt><dd><select aria-label="Kind of keep-out" :value="keepOut.kind" @change="setKeepOut({ kind: value($event) as KeepOut['kind'] })"><option v-for="(word, kind) in KEEP_OUTS" :key="kind" :value="kind">{{ word }}</option></select></dd>
        <dt>Width</dt><dd><Quantity :model-value="keepOut.x1_m - keepOut.x0_m" quantity="length" label="Keep-out width" :min="0.01" :max="100" @update:model-value="resize(keepOut!, $event!, keepOut!.y1_m - keepOut!.y0_m)" /></dd>
        <dt>Depth</dt><dd><Quantity :model-value="keepOut.y1_m - keepOut.y0_m" quantity="length" label="Keep-out depth" :min="0.01" :max="100" @update:model-value="resize(keepOut!, keepOut!.x1_m - keepOut!.x0_m, $event!)" /></dd>
        <dt>Tube stays off</dt><dd><Quantity :model-value="keepOut.clearance_m" quantity="size" label="Clearance" :min="0" :max="1" @update:model-value="setKeepOut({ clearance_m: $event! })" /></dd>
        <dt>Photo</dt><dd><PhotoField :model-value="keepOut.photo_id" label="Photo of the keep-out" @update:model-value="setKeepOut({ photo_id: $event })" /></dd>
      </dl>
    </template>
    <template v-else-if="mark">
      <h2>{{ MARKS[mark.kind] }}</h2>
      <dl class="facts">
        <dt>What is to be known</dt><dd><textarea :value="mark.text" aria-label="What is to be known" rows="3" maxlength="2000" @input="store.edit('write a note', (j) => (find(j.marks, mark!.id).text = value($event)), `note-${mark!.id}`)" @change="store.settle()"></textarea></dd>
        <dt>Photo</dt><dd><PhotoField :model-value="mark.photo_id" label="Photo of the mark" @update:model-value="setMark({ photo_id: $event })" /></dd>
      </dl>
      <p v-if="mark.kind === 'saw_cut'" class="hint">Tube lies low under a cut, in a sleeve, and the crew is told its depth.</p>
    </template>
    <template v-else-if="manifold">
      <h2>Manifold {{ manifold.letter }}, {{ roomName(manifold.room_id) }}</h2>
      <dl class="facts">
        <dt>Letter</dt><dd><input aria-label="Manifold letter" :value="manifold.letter" maxlength="3" size="3" @change="value($event).trim() && setManifold({ letter: value($event).trim() })" /></dd>
        <dt>Port pairs</dt><dd><Quantity :model-value="manifold.ports" quantity="count" label="Port pairs" :min="1" :max="24" @update:model-value="setManifold({ ports: Math.round($event!) })" /></dd>
        <dt>From the corner</dt><dd><Quantity :model-value="manifold.offset_m" quantity="length" label="Distance from the corner" :min="0" :max="200" @update:model-value="setManifold({ offset_m: $event! })" /></dd>
      </dl>
      <Risers :manifold="manifold" />
      <ManifoldPlaces :manifold-id="manifold.id" />
      <LayoutRemedies />
    </template>
    <template v-else-if="loop">
      <LoopPanel :loop="loop" />
    </template>
    <p v-if="state.refusal" class="refusal" role="alert">{{ state.refusal }}</p>
    <div class="actions">
      <button v-if="store.deletable.value" class="plain link" @click="store.removeSelected()">Delete</button>
      <button class="plain link" @click="store.select(null)">Deselect</button>
    </div>
  </section>
</template>

<style scoped>
.inspector { padding: 10px 12px; border-bottom: 1px solid var(--line); background: var(--sheet); }
.title { font-weight: 650; font-size: 16px; width: 100%; border-color: transparent; padding-left: 0; background: transparent; }
.title:hover, .title:focus { border-color: var(--line); }
textarea { width: 100%; font: inherit; border: 1px solid var(--line); border-radius: 3px; background: var(--sheet); }
.act { display: flex; gap: 6px; align-items: center; flex-wrap: wrap; margin: 4px 0; }
.act select { max-width: 120px; }
.do { border: 1px solid var(--line); background: var(--paper); border-radius: 3px; padding: 2px 10px; cursor: pointer; }
.do:disabled { color: #837868; cursor: default; }
.refusal { color: var(--ember); font-weight: 600; }
.hint { color: var(--soft); font-size: 13px; }
.actions { display: flex; gap: 16px; }
</style>
