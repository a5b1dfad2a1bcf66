<script setup lang="ts">
/** What is above or below a room, with the temperature of an unheated space. */
import type { Beyond } from "../api/client";
import Quantity from "./Quantity.vue";
import { BEYOND } from "./words";

const props = defineProps<{ modelValue: Beyond; label: string; without?: string }>();
const emit = defineEmits<{ "update:modelValue": [value: Beyond] }>();
function pick(kind: string) {
  emit("update:modelValue", (kind === "unheated" ? { kind, temperature_c: 5 } : { kind }) as Beyond);
}
</script>

<template>
  <span class="beyond">
    <select :aria-label="props.label" :value="modelValue.kind" @change="pick(($event.target as HTMLSelectElement).value)">
      <template v-for="(word, kind) in BEYOND" :key="kind"><option v-if="kind !== without" :value="kind">{{ word }}</option></template>
    </select>
    <Quantity
      v-if="modelValue.kind === 'unheated'" :model-value="modelValue.temperature_c" quantity="temperature" :label="`Temperature ${label.toLowerCase()}`"
      :min="-60" :max="60" @update:model-value="emit('update:modelValue', { kind: 'unheated', temperature_c: $event! })" />
  </span>
</template>

<style scoped>
.beyond { display: inline-flex; gap: 4px; }
</style>
