<script setup lang="ts">
/** What is chosen, with its figures to type. */
import { computed } from "vue";
import type { Beyond, Floor, Job, KeepOut, Manifold, Opening, Room } from "../api/client";
import * as edit from "../job/edit";
import { store } from "../job/store";
import { show } from "../units";
import Quantity from "./Quantity.vue";
import { BEYOND, KEEP_OUTS, OPENINGS } from "./words";

const { job, design, state, units } = store;
const sel = computed(() => state.selection);
const room = computed(() => (sel.value?.kind === "room" || sel.value?.kind === "wall" ? job.value?.rooms.find((r) => r.id === sel.value!.id) : undefined));
const owner = computed(() => job.value?.rooms.find((r) => r.openings.some((o) => o.id === sel.value?.id) || r.keep_outs.some((k) => k.id === sel.value?.id)));
const opening = computed(() => (sel.value?.kind === "opening" ? owner.value?.openings.find((o) => o.id === sel.value!.id) : undefined));
const keepOut = computed(() => (sel.value?.kind === "keep_out" ? owner.value?.keep_outs.find((k) => k.id === sel.value!.id) : undefined));
const manifold = computed(() => (sel.value?.kind === "manifold" ? job.value?.manifolds.find((m) => m.id === sel.value!.id) : undefined));
const loop = computed(() => (sel.value?.kind === "loop" ? design.value?.loops.find((l) => l.id === sel.value!.id) : undefined));
const wall = computed(() => (sel.value?.kind === "wall" && room.value ? edit.walls(room.value)[sel.value.edge!] : undefined));
const wallWord = computed(() => room.value?.walls.find((w) => w.edge === wall.value?.edge));
const wallSeen = computed(() => {
  const behind = design.value?.walls.filter((w) => w.room_id === room.value?.id && w.edge === wall.value?.edge) ?? [];
  const name = (id?: string | null) => job.value?.rooms.find((r) => r.id === id)?.name ?? "a room";
  return [...new Set(behind.map((w) => (w.beyond === "room" ? name(w.beyond_room_id) : w.beyond)))].join(", ");
});
const roomName = (id: string) => job.value?.rooms.find((r) => r.id === id)?.name ?? "";

const change = (label: string, what: (draft: Job) => void) => store.edit(label, what);
const setRoom = (set: Partial<Room>) => change("change room", (j) => Object.assign(edit.roomOf(j, room.value!.id)!, set));
const find = <T extends { id: string }>(list: T[], id: string) => list.find((x) => x.id === id)!;
const setOpening = (set: Partial<Opening>) => change("change opening", (j) => Object.assign(find(edit.roomOf(j, owner.value!.id)!.openings, opening.value!.id), set));
const setKeepOut = (set: Partial<KeepOut>) => change("change keep-out", (j) => Object.assign(find(edit.roomOf(j, owner.value!.id)!.keep_outs, keepOut.value!.id), set));
const setManifold = (set: Partial<Manifold>) => change("change manifold", (j) => Object.assign(find(j.manifolds, manifold.value!.id), set));
const setBeyond = (kind: string, temperature = 5) =>
  change("say what is behind", (j) => {
    const beyond = kind === "" ? undefined : ((kind === "unheated" ? { kind, temperature_c: temperature } : { kind }) as Beyond);
    edit.setBeyond(edit.roomOf(j, room.value!.id)!, wall.value!.edge, beyond);
  });
const resize = (k: KeepOut, width: number, depth: number) => setKeepOut({ x1_m: edit.clean(k.x0_m + width), y1_m: edit.clean(k.y0_m + depth) });
const value = (e: Event) => (e.target as HTMLInputElement).value;

function heatFloor(on: boolean) {
  const like = job.value?.rooms.find((r) => r.floor)?.floor;
  const usual: Floor = like ?? { build_up_id: "slab", covering_id: "tile", tube_id: "pex-16x2", spacing_core_m: 0.2, spacing_edge_m: 0.2, pattern: "auto" };
  setRoom({ floor: on ? { ...usual } : null });
}
</script>

<template>
  <section v-if="sel" class="inspector" aria-label="Chosen">
    <template v-if="room && !wall">
      <h2><input class="title" :value="room.name" aria-label="Room name" maxlength="200" @change="setRoom({ name: value($event) })" /></h2>
      <dl>
        <dt>Ceiling height</dt><dd><Quantity :model-value="room.height_m" quantity="length" label="Ceiling height" :min="1.5" :max="20" @update:model-value="setRoom({ height_m: $event! })" /></dd>
        <dt>Floor heated</dt><dd><input type="checkbox" :checked="Boolean(room.floor)" aria-label="Floor heated" @change="heatFloor(!room.floor)" /></dd>
      </dl>
    </template>
    <template v-else-if="room && wall">
      <h2>{{ room.name }}, {{ edit.wallName(wall) }}</h2>
      <dl>
        <dt>Length</dt><dd><Quantity :model-value="wall.length" quantity="length" label="Wall length" :min="0.05" :max="200" hint="Moves the wall after it" @update:model-value="change('set wall length', (j) => edit.setWallLength(j, room!.id, wall!.edge, $event!))" /></dd>
        <dt>Behind it</dt><dd>
          <select aria-label="Behind the wall" :value="wallWord?.beyond?.kind ?? ''" @change="setBeyond(value($event))">
            <option value="">as drawn: {{ wallSeen }}</option>
            <option v-for="(word, kind) in BEYOND" :key="kind" :value="kind">{{ word }}</option>
          </select>
</dd>
        <template v-if="wallWord?.beyond?.kind === 'unheated'">
          <dt>Temperature there</dt><dd><Quantity :model-value="wallWord.beyond.temperature_c" quantity="temperature" label="Temperature behind the wall" :min="-60" :max="60" @update:model-value="setBeyond('unheated', $event!)" /></dd>
        </template>
        <dt>U of this wall</dt><dd><Quantity :model-value="wallWord?.u" quantity="transmittance" label="U of this wall" :min="0.05" :max="8" empty="as the site" @update:model-value="change('set wall U', (j) => edit.setWallU(edit.roomOf(j, room!.id)!, wall!.edge, $event))" /></dd>
      </dl>
    </template>
    <template v-else-if="opening && owner">
      <h2>{{ OPENINGS[opening.kind] }}, {{ owner.name }}</h2>
      <dl>
        <dt>Kind</dt><dd><select aria-label="Kind of opening" :value="opening.kind" @change="setOpening({ kind: value($event) as Opening['kind'] })"><option v-for="(word, kind) in OPENINGS" :key="kind" :value="kind">{{ word }}</option></select></dd>
        <dt>Width</dt><dd><Quantity :model-value="opening.width_m" quantity="length" label="Opening width" :min="0.05" :max="50" @update:model-value="setOpening({ width_m: $event! })" /></dd>
        <dt>Height</dt><dd><Quantity :model-value="opening.height_m" quantity="length" label="Opening height" :min="0.02" :max="20" @update:model-value="setOpening({ height_m: $event! })" /></dd>
        <dt>From the corner</dt><dd><Quantity :model-value="opening.offset_m" quantity="length" label="Distance from the corner" :min="0" :max="200" @update:model-value="setOpening({ offset_m: $event! })" /></dd>
        <template v-if="opening.kind === 'window' || opening.kind === 'outside_door'">
          <dt>U of this one</dt><dd><Quantity :model-value="opening.u" quantity="transmittance" label="U of this opening" :min="0.05" :max="8" empty="as the site" @update:model-value="setOpening({ u: $event })" /></dd>
        </template>
      </dl>
    </template>
    <template v-else-if="keepOut && owner">
      <h2>{{ KEEP_OUTS[keepOut.kind] }}, {{ owner.name }}</h2>
      <dl>
        <dt>Name</dt><dd><input aria-label="Keep-out name" :value="keepOut.name" maxlength="200" @change="setKeepOut({ name: value($event) })" /></dd>
        <dt>Kind</dt><dd><select aria-label="Kind of keep-out" :value="keepOut.kind" @change="setKeepOut({ kind: value($event) as KeepOut['kind'] })"><option v-for="(word, kind) in KEEP_OUTS" :key="kind" :value="kind">{{ word }}</option></select></dd>
        <dt>Width</dt><dd><Quantity :model-value="keepOut.x1_m - keepOut.x0_m" quantity="length" label="Keep-out width" :min="0.01" :max="100" @update:model-value="resize(keepOut!, $event!, keepOut!.y1_m - keepOut!.y0_m)" /></dd>
        <dt>Depth</dt><dd><Quantity :model-value="keepOut.y1_m - keepOut.y0_m" quantity="length" label="Keep-out depth" :min="0.01" :max="100" @update:model-value="resize(keepOut!, keepOut!.x1_m - keepOut!.x0_m, $event!)" /></dd>
        <dt>Tube stays off</dt><dd><Quantity :model-value="keepOut.clearance_m" quantity="size" label="Clearance" :min="0" :max="1" @update:model-value="setKeepOut({ clearance_m: $event! })" /></dd>
      </dl>
    </template>
    <template v-else-if="manifold">
      <h2>Manifold {{ manifold.letter }}, {{ roomName(manifold.room_id) }}</h2>
      <dl>
        <dt>Letter</dt><dd><input aria-label="Manifold letter" :value="manifold.letter" maxlength="3" size="3" @change="value($event).trim() && setManifold({ letter: value($event).trim() })" /></dd>
        <dt>Port pairs</dt><dd><Quantity :model-value="manifold.ports" quantity="count" label="Port pairs" :min="1" :max="24" @update:model-value="setManifold({ ports: Math.round($event!) })" /></dd>
        <dt>From the corner</dt><dd><Quantity :model-value="manifold.offset_m" quantity="length" label="Distance from the corner" :min="0" :max="200" @update:model-value="setManifold({ offset_m: $event! })" /></dd>
      </dl>
    </template>
    <template v-else-if="loop">
      <h2>Loop {{ loop.tag }}, {{ loop.room_ids.map(roomName).join(", ") }}</h2>
      <dl>
        <dt>Length</dt><dd>{{ show("tube", loop.length_m, units) }} of {{ show("tube", loop.limit_m, units) }}</dd>
        <dt>of it leaders</dt><dd>{{ show("tube", loop.leader_length_m, units) }}</dd>
        <dt>Water</dt><dd>{{ show("temperature", loop.supply_c, units) }} → {{ show("temperature", loop.return_c, units) }}</dd>
        <dt>Flow</dt><dd>{{ show("flow", loop.flow_l_min, units) }}</dd>
        <dt>Head</dt><dd>{{ show("head", loop.head_loss_pa, units) }}</dd>
      </dl>
    </template>
    <div class="actions">
      <button v-if="store.deletable.value" class="plain link" @click="store.removeSelected()">Delete</button>
      <button class="plain link" @click="store.select(null)">Let go</button>
    </div>
  </section>
</template>

<style scoped>
.inspector { padding: 10px 12px; border-bottom: 1px solid var(--line); background: var(--sheet); }
.title { font-weight: 650; font-size: 16px; width: 100%; border-color: transparent; padding-left: 0; background: transparent; }
.title:hover, .title:focus { border-color: var(--line); }
dl { display: grid; grid-template-columns: auto 1fr; gap: 3px 10px; margin: 8px 0; align-items: center; }
dt { color: var(--soft); }
dd { margin: 0; text-align: right; }
dd select { max-width: 170px; }
.actions { display: flex; gap: 16px; }
</style>
