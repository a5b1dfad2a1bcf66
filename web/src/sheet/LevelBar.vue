<script setup lang="ts">
/** Which level the sheet shows, from the top of the building down; levels are added, named and set in height here. */
import { computed, ref } from "vue";
import JobField from "../kit/JobField.vue";
import { addLevel, removeLevel } from "../job/edit";
import { pathOf } from "../job/paths";
import { store } from "../job/store";
import { show } from "../units";
import TextField from "../kit/TextField.vue";

defineProps<{ editable: boolean }>();
const { job, where, level, units } = store;
const open = ref(false);
const levels = computed(() => [...(job.value?.levels ?? [])].sort((a, b) => (b.floor_m ?? 0) - (a.floor_m ?? 0)));
const roomsOn = (id: string) => job.value?.rooms.filter((r) => r.level_id === id).length ?? 0;
const change = (label: string, set: { name?: string; floor_m?: number }) =>
  store.edit(label, (j) => Object.assign(j.levels.find((l) => l.id === level.value!.id)!, set));

function add(below: boolean) {
  let id = "";
  store.edit("add level", (j) => (id = addLevel(j, below)));
  where.level = id;
}
function remove() {
  const id = level.value!.id;
  store.edit("delete level", (j) => removeLevel(j, id));
  where.level = job.value?.levels[0]?.id ?? "";
}
</script>

<template>
  <div v-if="job && (levels.length > 1 || editable)" class="levels">
    <div role="group" aria-label="Levels" class="list">
      <ElButton v-for="l in levels" :key="l.id" size="small" :type="l.id === level?.id ? 'primary' : 'default'" :aria-pressed="l.id === level?.id" :title="`Floor ${show('length', l.floor_m ?? 0, units)} over the ground outside; ${roomsOn(l.id)} rooms`" @click="where.level = l.id">{{ l.name || l.id }}</ElButton>
      <ElButton v-if="editable" size="small" :aria-expanded="open" aria-label="Change levels" @click="open = !open">…</ElButton>
    </div>
    <div v-if="open && editable && level" class="form">
      <label>Name <TextField :model-value="level.name" label="Level name" @update:model-value="change('name level', { name: $event })" /></label>
      <label>Floor over the ground <JobField :path="`${pathOf(job, 'levels', level.id)}.floor_m`" label="Floor over the ground outside" hint="Below zero for a basement" /></label>
      <span class="row">
        <ElButton size="small" @click="add(false)">Add above</ElButton>
        <ElButton size="small" @click="add(true)">Add basement</ElButton>
        <ElButton size="small" :disabled="levels.length < 2" :title="roomsOn(level.id) ? `with its ${roomsOn(level.id)} rooms; undo brings them back` : ''" @click="remove">Delete level</ElButton>
      </span>
    </div>
  </div>
</template>

<style scoped>
.levels { position: absolute; right: 8px; top: 50px; z-index: 2; display: flex; flex-direction: column; align-items: flex-end; gap: 4px; }
.list { display: flex; flex-direction: column; align-items: stretch; gap: 2px; }
.list .el-button { margin: 0; justify-content: flex-start; }
.form { background: var(--paper); border: 1px solid var(--line); border-radius: 4px; padding: 8px; display: grid; gap: 6px; justify-items: start; }
.form > label { display: flex; align-items: center; gap: 6px; }
.form .el-input { width: 130px; }
.row { display: flex; gap: 4px; flex-wrap: wrap; }
.row .el-button { margin: 0; }
</style>
