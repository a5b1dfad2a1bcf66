<script setup lang="ts">
/** A note on the plan, a saw cut. */
import { computed } from "vue";
import type { Mark } from "../api/client";
import { store } from "../job/store";
import PhotoField from "../kit/PhotoField.vue";
import TextField from "../kit/TextField.vue";
import { MARKS } from "../words";

const mark = computed(() => store.job.value?.marks.find((m) => m.id === store.where.selection?.id));
const set = (values: Partial<Mark>) => store.edit("change mark", (j) => Object.assign(j.marks.find((m) => m.id === mark.value!.id)!, values));
</script>

<template>
  <template v-if="mark">
    <h2>{{ MARKS[mark.kind] }}</h2>
    <dl class="facts">
      <dt>Text</dt><dd><TextField :model-value="mark.text" label="Text of the note" :lines="3" :max="2000" @update:model-value="set({ text: $event })" /></dd>
      <dt>Photo</dt><dd><PhotoField :model-value="mark.photo_id" label="Photo of the mark" @update:model-value="set({ photo_id: $event })" /></dd>
    </dl>
    <p v-if="mark.kind === 'saw_cut'" class="hint">Tube lies low under a cut, in a sleeve, and the crew is told its depth.</p>
  </template>
</template>
