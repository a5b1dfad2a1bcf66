<script setup lang="ts">
/** Yes or no. */
defineProps<{ modelValue: boolean | undefined; label: string; disabled?: boolean }>();
const emit = defineEmits<{ "update:modelValue": [value: boolean] }>();
</script>

<template>
  <ElCheckbox :model-value="Boolean(modelValue)" :aria-label="$slots.default ? undefined : label" :disabled="disabled" @update:model-value="emit('update:modelValue', Boolean($event))"><slot /></ElCheckbox>
</template>
