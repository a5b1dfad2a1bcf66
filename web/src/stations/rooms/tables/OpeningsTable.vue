<script setup lang="ts">
/** Windows, doors, doorways, sleeves. */
import { computed, ref } from "vue";
import type { Opening, Room } from "../../../api/client";
import * as edit from "../../../job/edit";
import { heldPath } from "../../../job/paths";
import { store } from "../../../job/store";
import { usualSize } from "../../../job/usual";
import ChoiceField from "../../../kit/ChoiceField.vue";
import DataTable from "../../../kit/DataTable.vue";
import JobField from "../../../kit/JobField.vue";
import type { Column } from "../../../kit/table";
import { OPENINGS } from "../../../words";
import AddTo from "./AddTo.vue";
import { held, wallsOf } from "./walls";

const { job, where } = store;
type Row = { room: Room; it: Opening };
const rows = computed(() => held((r) => r.openings));
const at = ({ room, it }: Row) => heldPath(job.value, "openings", room.id, it.id);
const hasGlass = (kind: string) => kind === "window" || kind === "roof_window" || kind === "outside_door";
const columns: Column<Row>[] = [
  { key: "room", head: "Room", value: (r) => r.room.name },
  { key: "kind", head: "Kind", value: (r) => OPENINGS[r.it.kind] },
  { key: "wall", head: "Wall", value: (r) => wallsOf(r.room)[r.it.edge]?.text },
  { key: "width", head: "Width", value: (r) => r.it.width_m, quantity: "length" },
  { key: "height", head: "Height", value: (r) => r.it.height_m, quantity: "length" },
  { key: "sill", head: "Sill", value: (r) => r.it.sill_m, quantity: "length" },
  { key: "offset", head: "From the corner", value: (r) => r.it.offset_m, quantity: "length" },
  { key: "u", head: "U", value: (r) => r.it.u, quantity: "transmittance" },
  { key: "g", head: "g", value: (r) => r.it.g, quantity: "share" },
];
const kind = ref<Opening["kind"]>("window");
function add(room: Room, edge: number) {
  const [width_m, height_m, sill_m] = usualSize(kind.value);
  const wall = edit.walls(room)[edge];
  let id: string | null = null;
  store.edit("add opening", (j) => (id = edit.addOpening(j, room.id, edge, (wall?.length ?? 0) / 2, { kind: kind.value, width_m, height_m, sill_m })));
  if (id) store.select({ kind: "opening", id });
}
const setWall = ({ room, it }: Row, edge: number) =>
  store.edit("move opening", (j) => (edit.roomOf(j, room.id)!.openings.find((o) => o.id === it.id)!.edge = edge));
</script>

<template>
  <DataTable :id="(r) => r.it.id" name="openings" :columns="columns" :rows="rows" :chosen="(r) => where.selection?.id === r.it.id" empty="No windows or doors yet: rooms lose nothing through glass, and leaders find no doorway." @choose="(r) => store.select({ kind: 'opening', id: r.it.id })">
    <template #above><AddTo words="Add opening" on-wall @add="add"><ChoiceField v-model="kind" :options="OPENINGS" label="Kind" /></AddTo></template>
    <template #cell-wall="{ row }"><ChoiceField :model-value="row.it.edge" :options="wallsOf(row.room)" label="Wall of the opening" @update:model-value="setWall(row, $event)" /></template>
    <template #cell-width="{ row }"><JobField :path="`${at(row)}.width_m`" label="Width" /></template>
    <template #cell-height="{ row }"><JobField :path="`${at(row)}.height_m`" label="Height" /></template>
    <template #cell-sill="{ row }"><JobField :path="`${at(row)}.sill_m`" label="Sill" /></template>
    <template #cell-offset="{ row }"><JobField :path="`${at(row)}.offset_m`" label="From the corner" /></template>
    <template #cell-u="{ row }"><JobField v-if="hasGlass(row.it.kind)" :path="`${at(row)}.u`" label="U of the opening" :empty="row.it.construction_id ? 'its kind' : 'site'" /></template>
    <template #cell-g="{ row }"><JobField v-if="hasGlass(row.it.kind)" :path="`${at(row)}.g`" label="g of the opening" empty="its kind" /></template>
  </DataTable>
</template>
