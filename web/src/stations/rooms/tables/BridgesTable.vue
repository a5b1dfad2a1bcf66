<script setup lang="ts">
/** Thermal bridges of single rooms. */
import { computed } from "vue";
import type { Room, RoomBridge } from "../../../api/client";
import * as edit from "../../../job/edit";
import { pathOf } from "../../../job/paths";
import { store } from "../../../job/store";
import { usual } from "../../../job/usual";
import DataTable from "../../../kit/DataTable.vue";
import JobField from "../../../kit/JobField.vue";
import type { Column } from "../../../kit/table";
import TextField from "../../../kit/TextField.vue";
import AddTo from "./AddTo.vue";
import { held } from "./walls";

const { job } = store;
type Row = { room: Room; it: RoomBridge; i: number };
const rows = computed(() => held((r) => r.bridges));
const at = ({ room, i }: Row) => `${pathOf(job.value, "rooms", room.id)}.bridges[${i}]`;
const columns: Column<Row>[] = [
  { key: "room", head: "Room", value: (r) => r.room.name },
  { key: "name", head: "What it is", value: (r) => r.it.name },
  { key: "psi", head: "ψ", value: (r) => r.it.psi_w_mk, quantity: "linear" },
  { key: "length", head: "Length", value: (r) => r.it.length_m, quantity: "length" },
  { key: "delete", head: "" },
];
const setName = ({ room, i }: Row, name: string) => store.edit("name thermal bridge", (j) => (edit.roomOf(j, room.id)!.bridges![i]!.name = name));
const drop = ({ room, i }: Row) => store.edit("delete thermal bridge", (j) => edit.roomOf(j, room.id)!.bridges!.splice(i, 1));
const add = (room: Room) =>
  store.edit("add thermal bridge", (j) => {
    const r = edit.roomOf(j, room.id)!;
    r.bridges = [...(r.bridges ?? []), { ...usual()!.bridge }];
  });
</script>

<template>
  <DataTable :id="(r) => `${r.room.id}-${r.i}`" name="bridges" :columns="columns" :rows="rows" empty="No bridges of single rooms. The building's own are set at Site.">
    <template #above><AddTo words="Add thermal bridge" @add="add" /></template>
    <template #cell-name="{ row }"><TextField :model-value="row.it.name" label="What the bridge is" @update:model-value="setName(row, $event)" /></template>
    <template #cell-psi="{ row }"><JobField :path="`${at(row)}.psi_w_mk`" label="ψ of the bridge" /></template>
    <template #cell-length="{ row }"><JobField :path="`${at(row)}.length_m`" label="Length of the bridge" /></template>
    <template #cell-delete="{ row }"><ElButton link type="primary" :aria-label="`Delete ${row.it.name}`" @click="drop(row)">Delete</ElButton></template>
  </DataTable>
</template>
