<script setup lang="ts">
/** A photo kept with something of the job: taken with a phone's camera or chosen, shown small, opened large. */
import { ref } from "vue";
import { Refused } from "../api/client";
import { keepPicture } from "./pictures";
import FilePick from "./FilePick.vue";

defineProps<{ modelValue: string | null | undefined; label: string }>();
const emit = defineEmits<{ "update:modelValue": [value: string | undefined] }>();
const wrong = ref("");
const busy = ref(false);

async function take(file: File) {
  busy.value = true;
  wrong.value = "";
  try {
    emit("update:modelValue", (await keepPicture(file, 2400)).id);
  } catch (e) {
    wrong.value = e instanceof Refused || e instanceof Error ? e.message : String(e);
  } finally {
    busy.value = false;
  }
}
</script>

<template>
  <span class="photo">
    <a v-if="modelValue" :href="`/api/files/${modelValue}`" target="_blank" rel="noopener"><img :src="`/api/files/${modelValue}`" :alt="label" loading="lazy" /></a>
    <FilePick :label="label" accept="image/png,image/jpeg" link @take="take">{{ busy ? "Keeping…" : modelValue ? "Other photo" : "Add a photo" }}</FilePick>
    <ElButton v-if="modelValue" link type="primary" @click="emit('update:modelValue', undefined)">Take it off</ElButton>
    <span v-if="wrong" class="wrong" role="alert">{{ wrong }}</span>
  </span>
</template>

<style scoped>
.photo { display: inline-flex; align-items: center; gap: 8px; flex-wrap: wrap; justify-content: flex-end; }
img { width: 72px; height: 54px; object-fit: cover; border: 1px solid var(--line); border-radius: 3px; display: block; }
.wrong { color: var(--ember); font-size: 12px; }
</style>
