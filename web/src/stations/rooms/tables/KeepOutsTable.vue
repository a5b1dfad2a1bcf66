<script setup lang="ts">
/** Places that get no tube. */
import { computed } from "vue";
import type { KeepOut, Room } from "../../../api/client";
import * as edit from "../../../job/edit";
import { heldPath } from "../../../job/paths";
import { store } from "../../../job/store";
import DataTable from "../../../kit/DataTable.vue";
import JobField from "../../../kit/JobField.vue";
import type { Column } from "../../../kit/table";
import TextField from "../../../kit/TextField.vue";
import { show } from "../../../units";
import { KEEP_OUTS } from "../../../words";
import AddTo from "./AddTo.vue";
import { held } from "./walls";

const { job, where, units } = store;
type Row = { room: Room; it: KeepOut };
const rows = computed(() => held((r) => r.keep_outs));
const size = ({ it: k }: Row) => `${show("length", k.x1_m - k.x0_m, units.value)} × ${show("length", k.y1_m - k.y0_m, units.value)}`;
const columns: Column<Row>[] = [
  { key: "room", head: "Room", value: (r) => r.room.name },
  { key: "kind", head: "Kind", value: (r) => KEEP_OUTS[r.it.kind] },
  { key: "name", head: "Name", value: (r) => r.it.name },
  { key: "size", head: "Size", value: ({ it: k }) => (k.x1_m - k.x0_m) * (k.y1_m - k.y0_m), text: size, num: true },
  { key: "clearance", head: "Tube stays off", value: (r) => r.it.clearance_m, quantity: "size" },
];
function add(room: Room) {
  const [xs, ys] = [room.outline.map((p) => p[0]), room.outline.map((p) => p[1])];
  const [x, y] = [(Math.min(...xs) + Math.max(...xs)) / 2, Math.min(...ys)];
  let id: string | null = null;
  store.edit("add keep-out", (j) => (id = edit.addKeepOut(j, room.id, [x - 0.3, y], [x + 0.3, y + 0.6])));
  if (id) store.select({ kind: "keep_out", id });
}
const setName = ({ room, it }: Row, name: string) => store.edit("name keep-out", (j) => (edit.roomOf(j, room.id)!.keep_outs.find((k) => k.id === it.id)!.name = name));
</script>

<template>
  <DataTable :id="(r) => r.it.id" name="keep-outs" :columns="columns" :rows="rows" :chosen="(r) => where.selection?.id === r.it.id" empty="No keep-outs: tube may lie everywhere." @choose="(r) => store.select({ kind: 'keep_out', id: r.it.id })">
    <template #above><AddTo words="Add keep-out" @add="add" /></template>
    <template #cell-name="{ row }"><TextField :model-value="row.it.name" label="Keep-out name" @update:model-value="setName(row, $event)" /></template>
    <template #cell-clearance="{ row }"><JobField :path="`${heldPath(job, 'keep_outs', row.room.id, row.it.id)}.clearance_m`" label="Clearance" /></template>
  </DataTable>
</template>
