<script setup lang="ts">
/** Text that is taken when it is left or Enter is pressed; Esc brings back what was there. */
import { ref, watch } from "vue";

const props = defineProps<{ modelValue: string | null | undefined; label: string; max?: number; /** May not be emptied. */ required?: boolean; placeholder?: string; lines?: number }>();
const emit = defineEmits<{ "update:modelValue": [value: string] }>();
const text = ref(props.modelValue ?? "");
watch(() => props.modelValue, (value) => (text.value = value ?? ""));
function change() {
  const typed = props.required ? text.value.trim() : text.value;
  if (props.required && !typed) text.value = props.modelValue ?? "";
  else if (typed !== (props.modelValue ?? "")) emit("update:modelValue", typed);
}
/** Esc takes back what was typed; with nothing typed it is not the field's. */
function giveUp(e: Event) {
  if (text.value === (props.modelValue ?? "")) return;
  e.stopPropagation();
  text.value = props.modelValue ?? "";
}
</script>

<template>
  <ElInput v-model="text" size="small" :type="lines ? 'textarea' : 'text'" :rows="lines" :aria-label="label" :maxlength="max ?? 200" :placeholder="placeholder" @change="change" @keydown.esc="giveUp" />
</template>
