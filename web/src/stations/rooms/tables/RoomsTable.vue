<script setup lang="ts">
/** Rooms: name, use, size, temperature, what is above and below. */
import { computed } from "vue";
import type { Job, Room } from "../../../api/client";
import * as edit from "../../../job/edit";
import { pathOf } from "../../../job/paths";
import { store } from "../../../job/store";
import { setUse } from "../../../job/usual";
import BeyondField from "../../../kit/BeyondField.vue";
import ChoiceField from "../../../kit/ChoiceField.vue";
import DataTable from "../../../kit/DataTable.vue";
import JobField from "../../../kit/JobField.vue";
import QuantityField from "../../../kit/QuantityField.vue";
import type { Column } from "../../../kit/table";
import TextField from "../../../kit/TextField.vue";
import { show } from "../../../units";
import { AIR_BY, BEYOND, USES } from "../../../words";

const { job, design, where, units } = store;
const rooms = computed(() => job.value?.rooms ?? []);
const found = (r: Room) => design.value?.rooms.find((d) => d.id === r.id);
const levelName = (id: string) => job.value?.levels.find((l) => l.id === id)?.name ?? id;
const at = (r: Room) => pathOf(job.value, "rooms", r.id);
const change = (what: (draft: Job) => void) => store.edit("change in the ledger", what);
const set = (r: Room, values: Partial<Room>) => change((j) => Object.assign(edit.roomOf(j, r.id)!, values));
/** Width and depth of a rectangle can be typed; other shapes by their walls. */
const box = (r: Room) => (r.outline.length === 4 ? edit.walls(r).map((w) => w.length) : null);
const COLUMNS: Column<Room>[] = [
  { key: "room", head: "Room", value: (r) => r.name },
  { key: "level", head: "Level", value: (r) => levelName(r.level_id), choice: "usual" },
  { key: "use", head: "Use", value: (r) => USES[r.use], choice: "usual" },
  { key: "width", head: "Width", value: (r) => box(r)?.[0], quantity: "length", choice: "usual" },
  { key: "depth", head: "Depth", value: (r) => box(r)?.[1], quantity: "length", choice: "usual" },
  { key: "height", head: "Height", value: (r) => r.height_m, quantity: "length", choice: "usual" },
  { key: "design", head: "Design temp.", value: (r) => (r.unheated ? found(r)?.temperature_c : r.room_c), quantity: "temperature" },
  { key: "air", head: "Air / h", value: (r) => r.air_changes_per_h ?? found(r)?.air_changes_per_h, quantity: "rate", choice: "extra" },
  { key: "above", head: "Above", value: (r) => BEYOND[r.above.kind], choice: "extra" },
  { key: "below", head: "Below", value: (r) => BEYOND[r.below.kind], choice: "extra" },
  { key: "area", head: "Area", value: (r) => found(r)?.area_m2, quantity: "area", choice: "usual" },
  { key: "heatable", head: "Heatable area", value: (r) => found(r)?.heatable_area_m2, quantity: "area", choice: "extra" },
];
/** Of an area outdoors only its place and size count. */
const INDOORS = ["use", "height", "design", "air", "above", "below"];
const columns = computed(() => COLUMNS.filter((c) => (c.key !== "level" || (job.value?.levels.length ?? 0) > 1) && !(job.value?.outdoors && INDOORS.includes(c.key))));
</script>

<template>
  <DataTable :id="(r) => r.id" name="rooms" :columns="columns" :rows="rooms" :chosen="(r) => where.selection?.id === r.id" empty="No rooms yet." @choose="(r) => store.select({ kind: 'room', id: r.id })">
    <template #cell-room="{ row: r }"><TextField :model-value="r.name" :label="`Name of ${r.name}`" @update:model-value="set(r, { name: $event })" /></template>
    <template #cell-level="{ row: r }"><ChoiceField :model-value="r.level_id" :options="(job?.levels ?? []).map((l) => ({ value: l.id, text: l.name }))" :label="`Level of ${r.name}`" @update:model-value="set(r, { level_id: $event })" /></template>
    <template #cell-use="{ row: r }"><ChoiceField :model-value="r.use" :options="USES" :label="`Use of ${r.name}`" @update:model-value="change((j) => setUse(edit.roomOf(j, r.id)!, $event as Room['use']))" /></template>
    <template #cell-width="{ row: r }">
      <QuantityField v-if="box(r)" :model-value="box(r)![0]" quantity="length" :label="`Width of ${r.name}`" :min="0.3" :max="200" @update:model-value="change((j) => edit.setWallLength(j, r.id, 0, $event!))" />
      <template v-else>by its walls</template>
    </template>
    <template #cell-depth="{ row: r }">
      <QuantityField v-if="box(r)" :model-value="box(r)![1]" quantity="length" :label="`Depth of ${r.name}`" :min="0.3" :max="200" @update:model-value="change((j) => edit.setWallLength(j, r.id, 1, $event!))" />
    </template>
    <template #cell-height="{ row: r }"><JobField :path="`${at(r)}.height_m`" :label="`Height of ${r.name}`" /></template>
    <template #cell-design="{ row: r }">
      <span v-if="r.unheated" title="Unheated: by its own balance of heat">settles at {{ show("temperature", found(r)?.temperature_c, units) }}</span>
      <JobField v-else :path="`${at(r)}.room_c`" :label="`Design temperature of ${r.name}`" />
    </template>
    <template #cell-air="{ row: r }"><JobField :path="`${at(r)}.air_changes_per_h`" :label="`Air changes of ${r.name}`" hint="Empty: by the building's method" :empty="`${show('rate', found(r)?.air_changes_per_h, units)} ${AIR_BY[found(r)?.air_by ?? 'people']}`" /></template>
    <template #cell-above="{ row: r }"><BeyondField :model-value="r.above" :label="`Above ${r.name}`" :without="['ground', 'crawl_space']" @update:model-value="set(r, { above: $event! })" /></template>
    <template #cell-below="{ row: r }"><BeyondField :model-value="r.below" :label="`Below ${r.name}`" @update:model-value="set(r, { below: $event! })" /></template>
  </DataTable>
</template>
