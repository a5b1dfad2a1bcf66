<script setup lang="ts">
/** Which level the sheet shows, from the top of the building down; levels are added, named and set in height here. */
import { computed, ref } from "vue";
import Quantity from "../components/Quantity.vue";
import { addLevel, removeLevel } from "../job/edit";
import { store } from "../job/store";
import { show } from "../units";

defineProps<{ editable: boolean }>();
const { job, state, level, units } = store;
const open = ref(false);
const levels = computed(() => [...(job.value?.levels ?? [])].sort((a, b) => (b.floor_m ?? 0) - (a.floor_m ?? 0)));
const roomsOn = (id: string) => job.value?.rooms.filter((r) => r.level_id === id).length ?? 0;
const change = (label: string, set: { name?: string; floor_m?: number }) =>
  store.edit(label, (j) => Object.assign(j.levels.find((l) => l.id === level.value!.id)!, set));

function add(below: boolean) {
  let id = "";
  store.edit("add level", (j) => (id = addLevel(j, below)));
  state.level = id;
}
function remove() {
  const id = level.value!.id;
  store.edit("delete level", (j) => removeLevel(j, id));
  state.level = job.value?.levels[0]?.id ?? "";
}
</script>

<template>
  <div v-if="job && (levels.length > 1 || editable)" class="levels">
    <div role="group" aria-label="Levels">
      <button v-for="l in levels" :key="l.id" :aria-pressed="l.id === level?.id" :class="{ on: l.id === level?.id }" :title="`Floor ${show('length', l.floor_m ?? 0, units)} over the ground outside; ${roomsOn(l.id)} rooms`" @click="state.level = l.id">{{ l.name || l.id }}</button>
      <button v-if="editable" class="more" :aria-expanded="open" aria-label="Change levels" @click="open = !open">…</button>
    </div>
    <div v-if="open && editable && level" class="form">
      <label>Name <input :value="level.name" aria-label="Level name" maxlength="200" @change="change('name level', { name: ($event.target as HTMLInputElement).value })" /></label>
      <label>Floor over the ground <Quantity :model-value="level.floor_m ?? 0" quantity="length" label="Floor over the ground outside" hint="Below zero for a basement" :min="-20" :max="200" @update:model-value="change('set level height', { floor_m: $event! })" /></label>
      <span class="row">
        <button @click="add(false)">Add above</button>
        <button @click="add(true)">Add basement</button>
        <button :disabled="levels.length < 2" :title="roomsOn(level.id) ? `with its ${roomsOn(level.id)} rooms; undo brings them back` : ''" @click="remove">Delete level</button>
      </span>
    </div>
  </div>
</template>

<style scoped>
.levels { position: absolute; right: 8px; top: 54px; z-index: 2; display: flex; flex-direction: column; align-items: flex-end; gap: 4px; }
button { background: var(--sheet); border: 1px solid var(--line); border-radius: 3px; padding: 3px 9px; cursor: pointer; }
button.on { background: var(--ink); color: var(--sheet); border-color: var(--ink); }
button:disabled { color: #837868; cursor: default; }
[role="group"] { display: flex; flex-direction: column; align-items: stretch; gap: 2px; }
[role="group"] button { text-align: left; }
.form { background: var(--paper); border: 1px solid var(--line); border-radius: 3px; padding: 8px; display: grid; gap: 6px; justify-items: start; }
.form input { width: 130px; }
.row { display: flex; gap: 4px; flex-wrap: wrap; }
</style>
