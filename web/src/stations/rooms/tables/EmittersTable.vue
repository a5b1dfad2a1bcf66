<script setup lang="ts">
/** Radiators, baseboards and convectors found on site. */
import { computed, ref } from "vue";
import type { Emitter, Room } from "../../../api/client";
import * as edit from "../../../job/edit";
import { heldPath } from "../../../job/paths";
import { store } from "../../../job/store";
import ChoiceField from "../../../kit/ChoiceField.vue";
import DataTable from "../../../kit/DataTable.vue";
import JobField from "../../../kit/JobField.vue";
import PhotoField from "../../../kit/PhotoField.vue";
import type { Column } from "../../../kit/table";
import TextField from "../../../kit/TextField.vue";
import { EMITTERS, PATTERNS_OF_RADIATORS } from "../../../words";
import AddTo from "./AddTo.vue";
import { held } from "./walls";

const { job } = store;
type Row = { room: Room; it: Emitter };
const rows = computed(() => held((r) => r.emitters));
const at = ({ room, it }: Row) => heldPath(job.value, "emitters", room.id, it.id);
const columns: Column<Row>[] = [
  { key: "room", head: "Room", value: (r) => r.room.name },
  { key: "kind", head: "Kind", value: (r) => EMITTERS[r.it.kind] },
  { key: "name", head: "What it is", value: (r) => r.it.name },
  { key: "beside", head: "Beside the tubes", value: (r) => r.it.beside_w, quantity: "heat" },
  { key: "length", head: "Length", value: (r) => r.it.length_m, quantity: "length" },
  { key: "height", head: "Height", value: (r) => r.it.height_m, quantity: "length" },
  { key: "pattern", head: "Sections of", value: (r) => PATTERNS_OF_RADIATORS[r.it.pattern ?? "panel"] },
  { key: "columns", head: "how many", value: (r) => r.it.columns, num: true, title: "Columns or tubes of a section, seen from its end" },
  { key: "sections", head: "Sections", value: (r) => r.it.sections, num: true },
  { key: "rated", head: "Output", value: (r) => r.it.rated_w, quantity: "heat" },
  { key: "excess", head: "at ΔθH", value: (r) => r.it.rated_excess_k, quantity: "difference", title: "Mean water-to-room difference at which it was rated" },
  { key: "photo", head: "Photo" },
  { key: "delete", head: "" },
];
const set = ({ room, it }: Row, values: Partial<Emitter>) => store.edit("change emitter", (j) => Object.assign(edit.roomOf(j, room.id)!.emitters!.find((e) => e.id === it.id)!, values));
const drop = ({ room, it }: Row) =>
  store.edit("delete emitter", (j) => {
    const r = edit.roomOf(j, room.id)!;
    r.emitters = r.emitters!.filter((e) => e.id !== it.id);
  });
const kind = ref<Emitter["kind"]>("radiator");
const add = (room: Room) => store.edit("record an emitter", (j) => void edit.addEmitter(j, room.id, kind.value));
</script>

<template>
  <DataTable :id="(r) => r.it.id" name="emitters" :columns="columns" :rows="rows" empty="No radiators or baseboards recorded. What stays can give part of a room's heat beside the tubes; the rest is for sizing the plant.">
    <template #above><AddTo words="Record emitter" @add="add"><ChoiceField v-model="kind" :options="EMITTERS" label="Kind of emitter" /></AddTo></template>
    <template #cell-kind="{ row }"><ChoiceField :model-value="row.it.kind" :options="EMITTERS" label="Kind of the emitter" @update:model-value="set(row, { kind: $event as Emitter['kind'] })" /></template>
    <template #cell-name="{ row }"><TextField :model-value="row.it.name" label="What the emitter is" @update:model-value="set(row, { name: $event })" /></template>
    <template #cell-beside="{ row }"><JobField :path="`${at(row)}.beside_w`" label="Heat beside the tubes on the design day" hint="It stays: so much of the room's load is not for the floor" empty="none" /></template>
    <template #cell-length="{ row }"><JobField :path="`${at(row)}.length_m`" label="Length of the emitter" hint="Of the fin, not of the cover" /></template>
    <template #cell-height="{ row }"><JobField :path="`${at(row)}.height_m`" label="Height of the emitter" /></template>
    <template #cell-pattern="{ row }"><ChoiceField v-if="row.it.kind === 'radiator'" :model-value="row.it.pattern" :options="PATTERNS_OF_RADIATORS" label="What its sections are like" empty="not read" @update:model-value="set(row, { pattern: $event as Emitter['pattern'] })" /></template>
    <template #cell-columns="{ row }"><JobField v-if="row.it.kind === 'radiator'" :path="`${at(row)}.columns`" label="Columns or tubes of a section" /></template>
    <template #cell-sections="{ row }"><JobField :path="`${at(row)}.sections`" label="Sections" /></template>
    <template #cell-rated="{ row }"><JobField :path="`${at(row)}.rated_w`" label="Output by its label" empty="not read" /></template>
    <template #cell-excess="{ row }"><JobField :path="`${at(row)}.rated_excess_k`" label="Mean water over room at that output" empty="not read" /></template>
    <template #cell-photo="{ row }"><PhotoField :model-value="row.it.photo_id" label="Photo of the emitter" @update:model-value="set(row, { photo_id: $event })" /></template>
    <template #cell-delete="{ row }"><ElButton link type="primary" :aria-label="`Delete ${EMITTERS[row.it.kind].toLowerCase()} of ${row.room.name}`" @click="drop(row)">Delete</ElButton></template>
  </DataTable>
</template>
