<script setup lang="ts">
/** Rooms, openings, keep-outs and manifolds as tables: typing here and dragging on the sheet are the same edit. */
import { computed, ref } from "vue";
import type { Emitter, Job, Room } from "../../api/client";
import BeyondField from "../../kit/BeyondField.vue";
import QuantityField from "../../kit/QuantityField.vue";
import PhotoField from "../../kit/PhotoField.vue";
import { AIR_BY, EMITTERS, KEEP_OUTS, MARKS, OPENINGS, USES } from "../../words";
import * as edit from "../../job/edit";
import { store } from "../../job/store";
import ColumnChoice from "../../kit/ColumnChoice.vue";
import { useColumns } from "../../kit/columns";
import { show } from "../../units";
import ChoiceField from "../../kit/ChoiceField.vue";
import TextField from "../../kit/TextField.vue";

const { job, design, where, units } = store;
const columns = useColumns("rooms", { level: "Level", use: "Use", size: "Width and depth", height: "Height", air: "Air / h", above: "Above", below: "Below", area: "Area", heatable: "Heatable area" }, ["level", "use", "size", "height", "area"]);
const has = (name: string) => columns.has(name) && (name !== "level" || (job.value?.levels.length ?? 0) > 1);
const TABS = ["rooms", "openings", "keep-outs", "manifolds", "notes", "emitters", "bridges"] as const;
const tab = ref<(typeof TABS)[number]>("rooms");
const rooms = computed(() => job.value?.rooms ?? []);
const openings = computed(() => rooms.value.flatMap((room) => room.openings.map((o) => ({ room, o }))));
const keepOuts = computed(() => rooms.value.flatMap((room) => room.keep_outs.map((k) => ({ room, k }))));
const area = (id: string) => design.value?.rooms.find((r) => r.id === id);
const change = (what: (draft: Job) => void) => store.edit("change in the ledger", what);
const set = (id: string, values: Partial<Room>) => change((j) => Object.assign(edit.roomOf(j, id)!, values));
const wallsOf = (room: Room) => edit.walls(room).map((w) => ({ edge: w.edge, text: `${edit.wallName(w, job.value?.site.north_deg)}, ${show("length", w.length, units.value)}` }));
const isChosen = (id: string) => where.selection?.id === id;
function pick<T extends { id: string }>(list: T[], id: string): T {
  return list.find((x) => x.id === id)!;
}

/** Width and depth of a rectangle can be typed; other shapes by their walls. */
function box(room: Room) {
  if (room.outline.length !== 4) return null;
  const w = edit.walls(room);
  return { width: w[0]!.length, depth: w[1]!.length };
}

const add = ref({ room: "", edge: 0, kind: "window" as keyof typeof OPENINGS });
const addRoom = computed(() => rooms.value.find((r) => r.id === add.value.room) ?? rooms.value[0]);
function addOpening() {
  const room = addRoom.value;
  if (!room) return;
  const { edge, kind } = add.value;
  const [width_m, height_m, sill_m] = edit.usualSize(job.value, kind);
  const wall = edit.walls(room)[edge];
  let id: string | null = null;
  store.edit("add opening", (j) => (id = edit.addOpening(j, room.id, edge, (wall?.length ?? 0) / 2, { kind, width_m, height_m, sill_m })));
  if (id) store.select({ kind: "opening", id });
}
const emitters = computed(() => rooms.value.flatMap((room) => (room.emitters ?? []).map((e) => ({ room, e }))));
const bridges = computed(() => rooms.value.flatMap((room) => (room.bridges ?? []).map((b, i) => ({ room, b, i }))));
const emitterKind = ref<Emitter["kind"]>("radiator");
const setEmitter = (room: Room, id: string, values: Partial<Emitter>) => change((j) => Object.assign(pick(edit.roomOf(j, room.id)!.emitters!, id), values));
const addEmitter = () => addRoom.value && store.edit("record an emitter", (j) => void edit.addEmitter(j, addRoom.value!.id, emitterKind.value));
const addBridge = () =>
  addRoom.value &&
  store.edit("add thermal bridge", (j) => {
    const room = edit.roomOf(j, addRoom.value!.id)!;
    room.bridges = [...(room.bridges ?? []), { name: "Balcony slab", psi_w_mk: 0.7, length_m: 2 }];
  });
const levelName = (id: string) => job.value?.levels.find((l) => l.id === id)?.name ?? id;
const hasGlass = (kind: string) => kind === "window" || kind === "roof_window" || kind === "outside_door";
function addManifold() {
  const room = addRoom.value;
  const wall = room && edit.walls(room)[add.value.edge];
  if (!room || !wall) return;
  let id = "";
  store.edit("hang manifold", (j) => (id = edit.addManifold(j, room.id, wall.edge, wall.length / 2)));
  store.select({ kind: "manifold", id });
}
function addKeepOut() {
  const room = addRoom.value;
  if (!room) return;
  const x = (Math.min(...room.outline.map((p) => p[0])) + Math.max(...room.outline.map((p) => p[0]))) / 2;
  const y = Math.min(...room.outline.map((p) => p[1]));
  let id: string | null = null;
  store.edit("add keep-out", (j) => (id = edit.addKeepOut(j, room.id, [x - 0.3, y], [x + 0.3, y + 0.6])));
  if (id) store.select({ kind: "keep_out", id });
}
const ADD: Partial<Record<(typeof TABS)[number], { words: string; act: () => unknown }>> = {
  openings: { words: "Add opening", act: addOpening },
  manifolds: { words: "Hang manifold", act: addManifold },
  "keep-outs": { words: "Add keep-out", act: addKeepOut },
  emitters: { words: "Record emitter", act: addEmitter },
  bridges: { words: "Add thermal bridge", act: addBridge },
};
const adding = computed(() => ADD[tab.value]);
</script>

<template>
  <ElTabs v-model="tab" class="tabs" aria-label="Ledger">
    <ElTabPane v-for="t in TABS" :key="t" :name="t" :label="t[0]!.toUpperCase() + t.slice(1)" />
  </ElTabs>
  <div v-if="tab === 'rooms'" class="choice-of"><ColumnChoice v-model="columns.shown" :names="columns.names" /></div>
  <div class="scroll" tabindex="0" role="region" :aria-label="`Table of ${tab}`">
    <table v-if="tab === 'rooms'" class="grid-table">
      <thead><tr><th>Room</th><th v-if="has('level')">Level</th><th v-if="has('use')">Use</th><template v-if="has('size')"><th class="num">Width</th><th class="num">Depth</th></template><th v-if="has('height')" class="num">Height</th><th class="num">Design temp.</th><th v-if="has('air')" class="num">Air / h</th><th v-if="has('above')">Above</th><th v-if="has('below')">Below</th><th v-if="has('area')" class="num">Area</th><th v-if="has('heatable')" class="num">Heatable</th></tr></thead>
      <tbody>
        <tr v-for="r in rooms" :key="r.id" :class="{ chosen: isChosen(r.id) }" @focusin="store.select({ kind: 'room', id: r.id })">
          <td><TextField :model-value="r.name" :label="`Name of ${r.name}`" @update:model-value="set(r.id, { name: $event })" /></td>
          <td v-if="has('level') && job"><ChoiceField :model-value="r.level_id" :options="job.levels.map((l) => ({ value: l.id, text: levelName(l.id) }))" :label="`Level of ${r.name}`" @update:model-value="set(r.id, { level_id: $event })" /></td>
          <td v-if="has('use')"><ChoiceField :model-value="r.use" :options="USES" :label="`Use of ${r.name}`" @update:model-value="set(r.id, { use: $event as Room['use'] })" /></td>
          <template v-if="has('size') && box(r)">
            <td class="num"><QuantityField :model-value="box(r)!.width" quantity="length" :label="`Width of ${r.name}`" :min="0.3" :max="200" @update:model-value="change((j) => edit.setWallLength(j, r.id, 0, $event!))" /></td>
            <td class="num"><QuantityField :model-value="box(r)!.depth" quantity="length" :label="`Depth of ${r.name}`" :min="0.3" :max="200" @update:model-value="change((j) => edit.setWallLength(j, r.id, 1, $event!))" /></td>
          </template>
          <td v-else-if="has('size')" class="num" colspan="2">by its walls</td>
          <td v-if="has('height')" class="num"><QuantityField :model-value="r.height_m" quantity="length" :label="`Height of ${r.name}`" :min="1.5" :max="20" @update:model-value="set(r.id, { height_m: $event! })" /></td>
          <td class="num"><span v-if="r.unheated" :title="'Unheated: by its own balance of heat'">settles at {{ show("temperature", area(r.id)?.temperature_c, units) }}</span><QuantityField v-else :model-value="r.room_c" quantity="temperature" :label="`Design temperature of ${r.name}`" :min="5" :max="35" @update:model-value="set(r.id, { room_c: $event! })" /></td>
          <td v-if="has('air')" class="num"><QuantityField :model-value="r.air_changes_per_h" quantity="rate" :label="`Air changes of ${r.name}`" hint="Empty: by the building's method" :min="0" :max="20" :empty="`${show('rate', area(r.id)?.air_changes_per_h, units)} ${AIR_BY[area(r.id)?.air_by ?? 'people']}`" @update:model-value="set(r.id, { air_changes_per_h: $event })" /></td>
          <td v-if="has('above')"><BeyondField :model-value="r.above" :label="`Above ${r.name}`" :without="['ground', 'crawl_space']" @update:model-value="set(r.id, { above: $event! })" /></td>
          <td v-if="has('below')"><BeyondField :model-value="r.below" :label="`Below ${r.name}`" @update:model-value="set(r.id, { below: $event! })" /></td>
          <td v-if="has('area')" class="num">{{ show("area", area(r.id)?.area_m2, units) }}</td>
          <td v-if="has('heatable')" class="num">{{ show("area", area(r.id)?.heatable_area_m2, units) }}</td>
        </tr>
        <tr v-if="rooms.length === 0"><td colspan="12" class="none">No rooms yet.</td></tr>
      </tbody>
    </table>
    <template v-else>
      <form v-if="tab !== 'notes'" class="add" @submit.prevent>
        <ChoiceField :model-value="addRoom?.id" :options="rooms.map((r) => ({ value: r.id, text: r.name }))" label="Room" @update:model-value="add = { ...add, room: $event, edge: 0 }" />
        <template v-if="(tab === 'openings' || tab === 'manifolds') && addRoom">
          <ChoiceField v-model="add.edge" :options="wallsOf(addRoom).map((w) => ({ value: w.edge, text: w.text }))" label="Wall" />
        </template>
        <ChoiceField v-if="tab === 'openings'" v-model="add.kind" :options="OPENINGS" label="Kind" />
        <ChoiceField v-if="tab === 'emitters'" v-model="emitterKind" :options="EMITTERS" label="Kind of emitter" />
        <ElButton size="small" :disabled="rooms.length === 0" @click="adding?.act()">
          {{ adding?.words }}
        </ElButton>
      </form>
      <table v-if="tab === 'openings'" class="grid-table">
        <thead><tr><th>Room</th><th>Kind</th><th>Wall</th><th class="num">Width</th><th class="num">Height</th><th class="num">Sill</th><th class="num">From the corner</th><th class="num">U</th><th class="num">g</th></tr></thead>
        <tbody>
          <tr v-for="{ room, o } in openings" :key="o.id" :class="{ chosen: isChosen(o.id) }" @focusin="store.select({ kind: 'opening', id: o.id })">
            <td>{{ room.name }}</td>
            <td><ElButton link type="primary">{{ OPENINGS[o.kind] }}</ElButton></td>
            <td><ChoiceField :model-value="o.edge" :options="wallsOf(room).map((w) => ({ value: w.edge, text: w.text }))" label="Wall of the opening" @update:model-value="change((j) => (pick(edit.roomOf(j, room.id)!.openings, o.id).edge = $event))" /></td>
            <td class="num"><QuantityField :model-value="o.width_m" quantity="length" label="Width" :min="0.05" :max="50" @update:model-value="change((j) => (pick(edit.roomOf(j, room.id)!.openings, o.id).width_m = $event!))" /></td>
            <td class="num"><QuantityField :model-value="o.height_m" quantity="length" label="Height" :min="0.02" :max="20" @update:model-value="change((j) => (pick(edit.roomOf(j, room.id)!.openings, o.id).height_m = $event!))" /></td>
            <td class="num"><QuantityField :model-value="o.sill_m ?? 0" quantity="length" label="Sill" :min="0" :max="20" @update:model-value="change((j) => (pick(edit.roomOf(j, room.id)!.openings, o.id).sill_m = $event!))" /></td>
            <td class="num"><QuantityField :model-value="o.offset_m" quantity="length" label="From the corner" :min="0" :max="200" @update:model-value="change((j) => (pick(edit.roomOf(j, room.id)!.openings, o.id).offset_m = $event!))" /></td>
            <template v-if="hasGlass(o.kind)">
              <td class="num"><QuantityField :model-value="o.u" quantity="transmittance" label="U of the opening" :min="0.05" :max="8" :empty="o.construction_id ? 'its kind' : 'site'" @update:model-value="change((j) => (pick(edit.roomOf(j, room.id)!.openings, o.id).u = $event))" /></td>
              <td class="num"><QuantityField :model-value="o.g" quantity="share" label="g of the opening" :min="0" :max="1" empty="its kind" @update:model-value="change((j) => (pick(edit.roomOf(j, room.id)!.openings, o.id).g = $event))" /></td>
            </template>
            <td v-else colspan="2"></td>
          </tr>
          <tr v-if="openings.length === 0"><td colspan="9" class="none">No windows or doors yet: rooms lose nothing through glass, and leaders find no doorway.</td></tr>
        </tbody>
      </table>
      <table v-if="tab === 'keep-outs'" class="grid-table">
        <thead><tr><th>Room</th><th>Kind</th><th>Name</th><th class="num">Size</th><th class="num">Tube stays off</th></tr></thead>
        <tbody>
          <tr v-for="{ room, k } in keepOuts" :key="k.id" :class="{ chosen: isChosen(k.id) }" @focusin="store.select({ kind: 'keep_out', id: k.id })">
            <td>{{ room.name }}</td>
            <td><ElButton link type="primary">{{ KEEP_OUTS[k.kind] }}</ElButton></td>
            <td><TextField :model-value="k.name" label="Keep-out name" @update:model-value="change((j) => (pick(edit.roomOf(j, room.id)!.keep_outs, k.id).name = $event))" /></td>
            <td class="num">{{ show("length", k.x1_m - k.x0_m, units) }} × {{ show("length", k.y1_m - k.y0_m, units) }}</td>
            <td class="num"><QuantityField :model-value="k.clearance_m" quantity="size" label="Clearance" :min="0" :max="1" @update:model-value="change((j) => (pick(edit.roomOf(j, room.id)!.keep_outs, k.id).clearance_m = $event!))" /></td>
          </tr>
          <tr v-if="keepOuts.length === 0"><td colspan="5" class="none">No keep-outs: tube may lie everywhere.</td></tr>
        </tbody>
      </table>
      <table v-if="tab === 'manifolds'" class="grid-table">
        <thead><tr><th>Manifold</th><th>Room</th><th class="num">Port pairs</th><th class="num">Used</th></tr></thead>
        <tbody>
          <tr v-for="m in job?.manifolds ?? []" :key="m.id" :class="{ chosen: isChosen(m.id) }" @focusin="store.select({ kind: 'manifold', id: m.id })">
            <td><ElButton link type="primary">{{ m.letter }}</ElButton></td>
            <td>{{ rooms.find((r) => r.id === m.room_id)?.name }}</td>
            <td class="num"><QuantityField :model-value="m.ports" quantity="count" label="Port pairs" :min="1" :max="24" @update:model-value="change((j) => (pick(j.manifolds, m.id).ports = Math.round($event!)))" /></td>
            <td class="num">{{ design?.manifolds.find((d) => d.id === m.id)?.ports_used ?? 0 }}</td>
          </tr>
          <tr v-if="!job?.manifolds.length"><td colspan="4" class="none">No manifold yet: no loops can be drawn.</td></tr>
        </tbody>
      </table>
      <table v-if="tab === 'notes'" class="grid-table">
        <thead><tr><th>Kind</th><th>Level</th><th>Text</th><th>Photo</th></tr></thead>
        <tbody>
          <tr v-for="m in job?.marks ?? []" :key="m.id" :class="{ chosen: isChosen(m.id) }" @focusin="store.select({ kind: 'mark', id: m.id })">
            <td><ElButton link type="primary">{{ MARKS[m.kind] }}</ElButton></td>
            <td>{{ levelName(m.level_id) }}</td>
            <td><TextField :model-value="m.text" label="Text of the note" :max="2000" class="long" @update:model-value="change((j) => (pick(j.marks, m.id).text = $event))" /></td>
            <td><PhotoField :model-value="m.photo_id" label="Photo of the note" @update:model-value="change((j) => (pick(j.marks, m.id).photo_id = $event))" /></td>
          </tr>
          <tr v-if="!job?.marks.length"><td colspan="4" class="none">No notes yet. Press N and click the spot; saw cuts with C.</td></tr>
        </tbody>
      </table>
      <table v-if="tab === 'emitters'" class="grid-table">
        <thead><tr><th>Room</th><th>Kind</th><th>What it is</th><th class="num">Beside the tubes</th><th class="num">Length</th><th class="num">Height</th><th class="num">Sections</th><th class="num">Output</th><th class="num">at excess</th><th>Photo</th><th></th></tr></thead>
        <tbody>
          <tr v-for="{ room, e } in emitters" :key="e.id">
            <td>{{ room.name }}</td>
            <td><ChoiceField :model-value="e.kind" :options="EMITTERS" label="Kind of the emitter" @update:model-value="setEmitter(room, e.id, { kind: $event as Emitter['kind'] })" /></td>
            <td><TextField :model-value="e.name" label="What the emitter is" @update:model-value="setEmitter(room, e.id, { name: $event })" /></td>
            <td class="num"><QuantityField :model-value="e.beside_w" quantity="heat" label="Heat beside the tubes on the design day" hint="It stays: so much of the room's need is not for the floor" :min="0" :max="100000" empty="none, it goes" @update:model-value="setEmitter(room, e.id, { beside_w: $event })" /></td>
            <td class="num"><QuantityField :model-value="e.length_m" quantity="length" label="Length of the emitter" hint="Of the fin, not of the cover" :min="0" :max="50" @update:model-value="setEmitter(room, e.id, { length_m: $event! })" /></td>
            <td class="num"><QuantityField :model-value="e.height_m" quantity="length" label="Height of the emitter" :min="0" :max="5" @update:model-value="setEmitter(room, e.id, { height_m: $event! })" /></td>
            <td class="num"><QuantityField :model-value="e.sections" quantity="count" label="Sections" :min="0" :max="200" @update:model-value="setEmitter(room, e.id, { sections: Math.round($event!) })" /></td>
            <td class="num"><QuantityField :model-value="e.rated_w" quantity="heat" label="Output by its label" :min="0" :max="100000" empty="not read" @update:model-value="setEmitter(room, e.id, { rated_w: $event })" /></td>
            <td class="num"><QuantityField :model-value="e.rated_excess_k" quantity="difference" label="Mean water over room at that output" :min="5" :max="120" empty="not read" @update:model-value="setEmitter(room, e.id, { rated_excess_k: $event })" /></td>
            <td><PhotoField :model-value="e.photo_id" label="Photo of the emitter" @update:model-value="setEmitter(room, e.id, { photo_id: $event })" /></td>
            <td><ElButton link type="primary" @click="change((j) => { const r = edit.roomOf(j, room.id)!; r.emitters = r.emitters!.filter((x) => x.id !== e.id); })">Delete</ElButton></td>
          </tr>
          <tr v-if="emitters.length === 0"><td colspan="11" class="none">No radiators or baseboards recorded. What stays can give part of a room's heat beside the tubes; the rest is for sizing the plant.</td></tr>
        </tbody>
      </table>
      <table v-if="tab === 'bridges'" class="grid-table">
        <thead><tr><th>Room</th><th>What it is</th><th class="num">ψ</th><th class="num">Length</th><th></th></tr></thead>
        <tbody>
          <tr v-for="{ room, b, i } in bridges" :key="`${room.id}-${i}`">
            <td>{{ room.name }}</td>
            <td><TextField :model-value="b.name" label="What the bridge is" @update:model-value="change((j) => (edit.roomOf(j, room.id)!.bridges![i]!.name = $event))" /></td>
            <td class="num"><QuantityField :model-value="b.psi_w_mk" quantity="linear" label="ψ of the bridge" :min="-1" :max="3" @update:model-value="change((j) => (edit.roomOf(j, room.id)!.bridges![i]!.psi_w_mk = $event!))" /></td>
            <td class="num"><QuantityField :model-value="b.length_m" quantity="length" label="Length of the bridge" :min="0" :max="1000" @update:model-value="change((j) => (edit.roomOf(j, room.id)!.bridges![i]!.length_m = $event!))" /></td>
            <td><ElButton link type="primary" @click="change((j) => edit.roomOf(j, room.id)!.bridges!.splice(i, 1))">Delete</ElButton></td>
          </tr>
          <tr v-if="bridges.length === 0"><td colspan="5" class="none">No bridges of single rooms. The building's own are set at Site.</td></tr>
        </tbody>
      </table>
    </template>
  </div>
</template>

<style scoped>
.scroll { overflow: auto; flex: 1; min-height: 0; }
.add { display: flex; flex-wrap: wrap; gap: 6px; padding: 4px 8px; }
.none { color: var(--soft); }
td > .el-input { width: 130px; }
td > .el-input.long { width: 420px; }
td :deep(.quantity.el-input) { width: 78px; }
td > .choice { width: 100px; min-width: 0; }
.add .choice { width: 170px; }
.choice-of { position: absolute; right: 130px; top: 0; }
@media (max-width: 900px) { .choice-of { position: static; text-align: right; } }
</style>
