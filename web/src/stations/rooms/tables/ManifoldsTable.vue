<script setup lang="ts">
/** Manifolds, and how many of their ports are used. */
import { computed } from "vue";
import type { Manifold, Room } from "../../../api/client";
import * as edit from "../../../job/edit";
import { pathOf } from "../../../job/paths";
import { store } from "../../../job/store";
import DataTable from "../../../kit/DataTable.vue";
import JobField from "../../../kit/JobField.vue";
import type { Column } from "../../../kit/table";
import AddTo from "./AddTo.vue";

const { job, design, where } = store;
const rows = computed(() => job.value?.manifolds ?? []);
const columns: Column<Manifold>[] = [
  { key: "letter", head: "Manifold", value: (m) => m.letter },
  { key: "room", head: "Room", value: (m) => job.value?.rooms.find((r) => r.id === m.room_id)?.name },
  { key: "ports", head: "Port pairs", value: (m) => m.ports, num: true },
  { key: "used", head: "Used", value: (m) => design.value?.manifolds.find((d) => d.id === m.id)?.ports_used ?? 0, num: true },
];
function add(room: Room, edge: number) {
  let id = "";
  store.edit("hang manifold", (j) => (id = edit.addManifold(j, room.id, edge, edit.walls(room)[edge]!.length / 2)));
  store.select({ kind: "manifold", id });
}
</script>

<template>
  <DataTable :id="(m) => m.id" name="manifolds" :columns="columns" :rows="rows" :chosen="(m) => where.selection?.id === m.id" empty="No manifold yet: no loops can be drawn." @choose="(m) => store.select({ kind: 'manifold', id: m.id })">
    <template #above><AddTo words="Hang manifold" on-wall @add="add" /></template>
    <template #cell-ports="{ row: m }"><JobField :path="`${pathOf(job, 'manifolds', m.id)}.ports`" label="Port pairs" /></template>
  </DataTable>
</template>
