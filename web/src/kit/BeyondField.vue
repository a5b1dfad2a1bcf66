<script setup lang="ts">
/** What is above or below a room or behind a wall, with the temperature or share of an unheated space. */
import { computed } from "vue";
import type { Beyond } from "../api/client";
import ChoiceField from "./ChoiceField.vue";
import QuantityField from "./QuantityField.vue";
import { BEYOND } from "../words";

const props = defineProps<{ modelValue: Beyond | undefined; label: string; without?: string[]; empty?: string }>();
const emit = defineEmits<{ "update:modelValue": [value: Beyond | undefined] }>();
const options = computed(() => Object.fromEntries(Object.entries(BEYOND).filter(([kind]) => !props.without?.includes(kind))));
function pick(kind: string | undefined) {
  if (kind === undefined) emit("update:modelValue", undefined);
  else if (kind === "unheated") emit("update:modelValue", { kind, temperature_c: 5 });
  else if (kind === "reduced") emit("update:modelValue", { kind, b: 0.8 });
  else emit("update:modelValue", { kind } as Beyond);
}
</script>

<template>
  <span class="beyond">
    <ChoiceField :model-value="modelValue?.kind" :label="label" :options="options" :empty="empty" @update:model-value="pick($event)" />
    <QuantityField v-if="modelValue?.kind === 'unheated'"
      of="Beyond.temperature_c" :model-value="modelValue.temperature_c" :label="`Temperature ${label.toLowerCase()}`"
      @update:model-value="emit('update:modelValue', { kind: 'unheated', temperature_c: $event! })" />
    <QuantityField
      v-if="modelValue?.kind === 'reduced'" :model-value="modelValue.b" quantity="share" :label="`Share b ${label.toLowerCase()}`"
      hint="0 % is heated to the same temperature, 100 % as cold as outdoors" :min="0" :max="1" @update:model-value="emit('update:modelValue', { kind: 'reduced', b: $event! })" />
  </span>
</template>

<style scoped>
.beyond { display: inline-flex; gap: 4px; flex-wrap: wrap; justify-content: flex-end; }
.beyond .choice { width: 150px; }
</style>
