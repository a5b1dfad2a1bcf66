<script setup lang="ts">
/** A field for one figure: shown in the job's units, typed in either system, changed on Enter or when left. */
import { computed, ref, watch } from "vue";
import { store } from "../job/store";
import { parse, show, type Quantity } from "../units";

const props = defineProps<{
  modelValue: number | null | undefined;
  quantity: Quantity;
  label: string;
  /** Allowed range, SI. */
  min: number;
  max: number;
  hint?: string;
  /** What an empty field means; without it a field may not be emptied. */
  empty?: string;
  wide?: boolean;
}>();
const emit = defineEmits<{ "update:modelValue": [value: number | undefined] }>();

const shown = computed(() =>
  props.modelValue === null || props.modelValue === undefined ? "" : show(props.quantity, props.modelValue, store.units.value),
);
const text = ref(shown.value);
const wrong = ref("");
watch(shown, (value) => {
  text.value = value;
  wrong.value = "";
});

const range = computed(() => `${show(props.quantity, props.min, store.units.value)} to ${show(props.quantity, props.max, store.units.value)}`);

function change() {
  const typed = text.value.trim();
  if (typed === shown.value) {
    wrong.value = "";
    return;
  }
  if (typed === "" && props.empty !== undefined) {
    emit("update:modelValue", undefined);
    return;
  }
  const value = parse(props.quantity, typed, store.units.value);
  if (value === null) wrong.value = `“${typed}” does not read as a ${props.label.toLowerCase()}`;
  else if (value < props.min - 1e-9 || value > props.max + 1e-9) wrong.value = `${props.label} must be ${range.value}`;
  else {
    wrong.value = "";
    emit("update:modelValue", value);
    text.value = show(props.quantity, value, store.units.value);
  }
}

function cancel() {
  text.value = shown.value;
  wrong.value = "";
}
</script>

<template>
  <input
    v-model="text"
    class="quantity"
    :class="{ wide }"
    :aria-label="label"
    :aria-invalid="wrong !== ''"
    :title="wrong || `${hint ?? label}: ${range}`"
    :placeholder="empty"
    autocomplete="off"
    @change="change"
    @keydown.enter="change"
    @keydown.esc.stop="cancel"
    @focus="($event.target as HTMLInputElement).select()"
  />
  <span v-if="wrong" class="wrong" role="alert">{{ wrong }}</span>
</template>

<style scoped>
.quantity { width: 92px; text-align: right; }
.quantity.wide { width: 130px; }
.wrong { color: var(--ember); font-size: 12px; white-space: normal; display: block; }
</style>
