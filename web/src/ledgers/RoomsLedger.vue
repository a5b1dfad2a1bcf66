<script setup lang="ts">
/** Rooms, openings, keep-outs and manifolds as tables: typing here and dragging on the sheet are the same edit. */
import { computed, ref } from "vue";
import type { Job, Room } from "../api/client";
import BeyondField from "../components/BeyondField.vue";
import Quantity from "../components/Quantity.vue";
import { KEEP_OUTS, OPENINGS, USES } from "../components/words";
import * as edit from "../job/edit";
import { store } from "../job/store";
import { show } from "../units";

const { job, design, state, units } = store;
const tab = ref<"rooms" | "openings" | "keep-outs" | "manifolds">("rooms");
const rooms = computed(() => job.value?.rooms ?? []);
const openings = computed(() => rooms.value.flatMap((room) => room.openings.map((o) => ({ room, o }))));
const keepOuts = computed(() => rooms.value.flatMap((room) => room.keep_outs.map((k) => ({ room, k }))));
const area = (id: string) => design.value?.rooms.find((r) => r.id === id);
const change = (what: (draft: Job) => void) => store.edit("change in the ledger", what);
const set = (id: string, values: Partial<Room>) => change((j) => Object.assign(edit.roomOf(j, id)!, values));
const value = (e: Event) => (e.target as HTMLSelectElement).value;
const wallsOf = (room: Room) => edit.walls(room).map((w) => ({ edge: w.edge, text: `${edit.wallName(w)}, ${show("length", w.length, units.value)}` }));
const isChosen = (id: string) => state.selection?.id === id;
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
  const [width_m, height_m] = edit.USUAL_SIZE[kind];
  const wall = edit.walls(room)[edge];
  let id: string | null = null;
  store.edit("add opening", (j) => (id = edit.addOpening(j, room.id, edge, (wall?.length ?? 0) / 2, { kind, width_m, height_m })));
  if (id) store.select({ kind: "opening", id });
}
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
</script>

<template>
  <div class="tabs" role="tablist" aria-label="Ledger">
    <button v-for="t in ['rooms', 'openings', 'keep-outs', 'manifolds'] as const" :key="t" role="tab" :aria-selected="tab === t" :class="{ on: tab === t }" @click="tab = t">
      {{ t[0]!.toUpperCase() + t.slice(1) }}
    </button>
  </div>
  <div class="scroll" tabindex="0" role="region" :aria-label="`Table of ${tab}`">
    <table v-if="tab === 'rooms'" class="grid-table">
      <thead><tr><th>Room</th><th>Use</th><th class="num">Width</th><th class="num">Depth</th><th class="num">Height</th><th class="num">Wanted</th><th class="num">Air / h</th><th>Above</th><th>Below</th><th class="num">Area</th><th class="num">Heatable</th></tr></thead>
      <tbody>
        <tr v-for="r in rooms" :key="r.id" :class="{ chosen: isChosen(r.id) }" @focusin="store.select({ kind: 'room', id: r.id })">
          <td><input :value="r.name" :aria-label="`Name of ${r.name}`" maxlength="200" @change="set(r.id, { name: value($event) })" /></td>
          <td><select :value="r.use" :aria-label="`Use of ${r.name}`" @change="set(r.id, { use: value($event) as Room['use'] })"><option v-for="(word, use) in USES" :key="use" :value="use">{{ word }}</option></select></td>
          <template v-if="box(r)">
            <td class="num"><Quantity :model-value="box(r)!.width" quantity="length" :label="`Width of ${r.name}`" :min="0.3" :max="200" @update:model-value="change((j) => edit.setWallLength(j, r.id, 0, $event!))" /></td>
            <td class="num"><Quantity :model-value="box(r)!.depth" quantity="length" :label="`Depth of ${r.name}`" :min="0.3" :max="200" @update:model-value="change((j) => edit.setWallLength(j, r.id, 1, $event!))" /></td>
          </template>
          <td v-else class="num" colspan="2">by its walls</td>
          <td class="num"><Quantity :model-value="r.height_m" quantity="length" :label="`Height of ${r.name}`" :min="1.5" :max="20" @update:model-value="set(r.id, { height_m: $event! })" /></td>
          <td class="num"><Quantity :model-value="r.room_c" quantity="temperature" :label="`Wanted temperature of ${r.name}`" :min="5" :max="35" @update:model-value="set(r.id, { room_c: $event! })" /></td>
          <td class="num"><Quantity :model-value="r.air_changes_per_h" quantity="rate" :label="`Air changes of ${r.name}`" :min="0" :max="20" @update:model-value="set(r.id, { air_changes_per_h: $event! })" /></td>
          <td><BeyondField :model-value="r.above" :label="`Above ${r.name}`" without="ground" @update:model-value="set(r.id, { above: $event })" /></td>
          <td><BeyondField :model-value="r.below" :label="`Below ${r.name}`" @update:model-value="set(r.id, { below: $event })" /></td>
          <td class="num">{{ show("area", area(r.id)?.area_m2, units) }}</td>
          <td class="num">{{ show("area", area(r.id)?.heatable_area_m2, units) }}</td>
        </tr>
        <tr v-if="rooms.length === 0"><td colspan="11" class="none">No rooms yet.</td></tr>
      </tbody>
    </table>
    <template v-else>
      <form class="add" @submit.prevent>
        <select v-model="add.room" aria-label="Room" @change="add.edge = 0"><option v-for="r in rooms" :key="r.id" :value="r.id">{{ r.name }}</option></select>
        <template v-if="tab !== 'keep-outs' && addRoom">
          <select v-model.number="add.edge" aria-label="Wall"><option v-for="w in wallsOf(addRoom)" :key="w.edge" :value="w.edge">{{ w.text }}</option></select>
        </template>
        <select v-if="tab === 'openings'" v-model="add.kind" aria-label="Kind"><option v-for="(word, kind) in OPENINGS" :key="kind" :value="kind">{{ word }}</option></select>
        <button :disabled="rooms.length === 0" @click="tab === 'openings' ? addOpening() : tab === 'manifolds' ? addManifold() : addKeepOut()">
          {{ tab === "openings" ? "Add opening" : tab === "manifolds" ? "Hang manifold" : "Add keep-out" }}
        </button>
      </form>
      <table v-if="tab === 'openings'" class="grid-table">
        <thead><tr><th>Room</th><th>Kind</th><th>Wall</th><th class="num">Width</th><th class="num">Height</th><th class="num">From the corner</th></tr></thead>
        <tbody>
          <tr v-for="{ room, o } in openings" :key="o.id" :class="{ chosen: isChosen(o.id) }" @focusin="store.select({ kind: 'opening', id: o.id })">
            <td>{{ room.name }}</td>
            <td><button class="plain link">{{ OPENINGS[o.kind] }}</button></td>
            <td><select :value="o.edge" aria-label="Wall of the opening" @change="change((j) => (pick(edit.roomOf(j, room.id)!.openings, o.id).edge = Number(value($event))))"><option v-for="w in wallsOf(room)" :key="w.edge" :value="w.edge">{{ w.text }}</option></select></td>
            <td class="num"><Quantity :model-value="o.width_m" quantity="length" label="Width" :min="0.05" :max="50" @update:model-value="change((j) => (pick(edit.roomOf(j, room.id)!.openings, o.id).width_m = $event!))" /></td>
            <td class="num"><Quantity :model-value="o.height_m" quantity="length" label="Height" :min="0.02" :max="20" @update:model-value="change((j) => (pick(edit.roomOf(j, room.id)!.openings, o.id).height_m = $event!))" /></td>
            <td class="num"><Quantity :model-value="o.offset_m" quantity="length" label="From the corner" :min="0" :max="200" @update:model-value="change((j) => (pick(edit.roomOf(j, room.id)!.openings, o.id).offset_m = $event!))" /></td>
          </tr>
          <tr v-if="openings.length === 0"><td colspan="6" class="none">No windows or doors yet: rooms lose nothing through glass, and leaders find no doorway.</td></tr>
        </tbody>
      </table>
      <table v-if="tab === 'keep-outs'" class="grid-table">
        <thead><tr><th>Room</th><th>Kind</th><th>Name</th><th class="num">Size</th><th class="num">Tube stays off</th></tr></thead>
        <tbody>
          <tr v-for="{ room, k } in keepOuts" :key="k.id" :class="{ chosen: isChosen(k.id) }" @focusin="store.select({ kind: 'keep_out', id: k.id })">
            <td>{{ room.name }}</td>
            <td><button class="plain link">{{ KEEP_OUTS[k.kind] }}</button></td>
            <td><input :value="k.name" aria-label="Keep-out name" maxlength="200" @change="change((j) => (pick(edit.roomOf(j, room.id)!.keep_outs, k.id).name = value($event)))" /></td>
            <td class="num">{{ show("length", k.x1_m - k.x0_m, units) }} × {{ show("length", k.y1_m - k.y0_m, units) }}</td>
            <td class="num"><Quantity :model-value="k.clearance_m" quantity="size" label="Clearance" :min="0" :max="1" @update:model-value="change((j) => (pick(edit.roomOf(j, room.id)!.keep_outs, k.id).clearance_m = $event!))" /></td>
          </tr>
          <tr v-if="keepOuts.length === 0"><td colspan="5" class="none">No keep-outs: tube may lie everywhere.</td></tr>
        </tbody>
      </table>
      <table v-if="tab === 'manifolds'" class="grid-table">
        <thead><tr><th>Manifold</th><th>Room</th><th class="num">Port pairs</th><th class="num">Used</th></tr></thead>
        <tbody>
          <tr v-for="m in job?.manifolds ?? []" :key="m.id" :class="{ chosen: isChosen(m.id) }" @focusin="store.select({ kind: 'manifold', id: m.id })">
            <td><button class="plain link">{{ m.letter }}</button></td>
            <td>{{ rooms.find((r) => r.id === m.room_id)?.name }}</td>
            <td class="num"><Quantity :model-value="m.ports" quantity="count" label="Port pairs" :min="1" :max="24" @update:model-value="change((j) => (pick(j.manifolds, m.id).ports = Math.round($event!)))" /></td>
            <td class="num">{{ design?.manifolds.find((d) => d.id === m.id)?.ports_used ?? 0 }}</td>
          </tr>
          <tr v-if="!job?.manifolds.length"><td colspan="4" class="none">No manifold yet: no loops can be drawn.</td></tr>
        </tbody>
      </table>
    </template>
  </div>
</template>

<style scoped>
.tabs { display: flex; gap: 2px; padding: 0 8px; }
.tabs button { border: 0; background: none; padding: 4px 10px; cursor: pointer; border-bottom: 2px solid transparent; }
.tabs button.on { border-bottom-color: var(--ember); font-weight: 650; }
.scroll { overflow: auto; flex: 1; min-height: 0; }
.add { display: flex; flex-wrap: wrap; gap: 6px; padding: 4px 8px; }
.none { color: var(--soft); }
td > input { width: 150px; }
td :deep(.quantity) { width: 80px; }
</style>
