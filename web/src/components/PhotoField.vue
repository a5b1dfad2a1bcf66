<script setup lang="ts">
/** A photo kept with something of the job: taken with a phone's camera or chosen, shown small, opened large. */
import { ref } from "vue";
import { Refused } from "../api/client";
import { keepPicture } from "../sheet/pictures";

defineProps<{ modelValue: string | null | undefined; label: string }>();
const emit = defineEmits<{ "update:modelValue": [value: string | undefined] }>();
const wrong = ref("");
const busy = ref(false);

async function take(e: Event) {
  const field = e.target as HTMLInputElement;
  const file = field.files?.[0];
  if (!file) return;
  busy.value = true;
  wrong.value = "";
  try {
    emit("update:modelValue", (await keepPicture(file, 2400)).id);
  } catch (e) {
    wrong.value = e instanceof Refused || e instanceof Error ? e.message : String(e);
  } finally {
    busy.value = false;
    field.value = "";
  }
}
</script>

<template>
  <span class="photo">
    <a v-if="modelValue" :href="`/api/files/${modelValue}`" target="_blank" rel="noopener"><img :src="`/api/files/${modelValue}`" :alt="label" loading="lazy" /></a>
    <label class="pick"><input type="file" accept="image/png,image/jpeg" class="visually-hidden" :aria-label="label" @change="take" />{{ busy ? "Keeping…" : modelValue ? "Other photo" : "Add a photo" }}</label>
    <button v-if="modelValue" class="plain link" @click="emit('update:modelValue', undefined)">Take it off</button>
    <span v-if="wrong" class="wrong" role="alert">{{ wrong }}</span>
  </span>
</template>

<style scoped>
.photo { display: inline-flex; align-items: center; gap: 8px; flex-wrap: wrap; justify-content: flex-end; }
img { width: 72px; height: 54px; object-fit: cover; border: 1px solid var(--line); border-radius: 3px; display: block; }
.pick { color: var(--ember); text-decoration: underline; cursor: pointer; }
.pick:focus-within { outline: 2px solid var(--ember); outline-offset: 1px; }
.wrong { color: var(--ember); font-size: 12px; }
</style>
