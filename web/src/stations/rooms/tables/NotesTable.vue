<script setup lang="ts">
/** Notes and saw cuts on the plan. */
import { computed } from "vue";
import type { Mark } from "../../../api/client";
import { store } from "../../../job/store";
import DataTable from "../../../kit/DataTable.vue";
import PhotoField from "../../../kit/PhotoField.vue";
import type { Column } from "../../../kit/table";
import TextField from "../../../kit/TextField.vue";
import { MARKS } from "../../../words";

const { job, where } = store;
const rows = computed(() => job.value?.marks ?? []);
const columns: Column<Mark>[] = [
  { key: "kind", head: "Kind", value: (m) => MARKS[m.kind] },
  { key: "level", head: "Level", value: (m) => job.value?.levels.find((l) => l.id === m.level_id)?.name },
  { key: "text", head: "Text", value: (m) => m.text },
  { key: "photo", head: "Photo" },
];
const set = (mark: Mark, values: Partial<Mark>) => store.edit("change note", (j) => Object.assign(j.marks.find((m) => m.id === mark.id)!, values));
</script>

<template>
  <DataTable :id="(m) => m.id" name="notes" :columns="columns" :rows="rows" :chosen="(m) => where.selection?.id === m.id" empty="No notes yet. Press N and click the spot; saw cuts with C." @choose="(m) => store.select({ kind: 'mark', id: m.id })">
    <template #cell-text="{ row: m }"><TextField class="long" :model-value="m.text" label="Text of the note" :max="2000" @update:model-value="set(m, { text: $event })" /></template>
    <template #cell-photo="{ row: m }"><PhotoField :model-value="m.photo_id" label="Photo of the note" @update:model-value="set(m, { photo_id: $event })" /></template>
  </DataTable>
</template>

<style scoped>
.long.el-input { width: 420px; }
</style>
