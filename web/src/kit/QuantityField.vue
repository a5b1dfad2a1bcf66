<script setup lang="ts">
/** A field for one figure: shown in the viewer's units, typed in either system, changed on Enter or when left. */
import { computed, ref, watch } from "vue";
import { figureOf } from "../job/paths";
import { store } from "../job/store";
import { parse, show, type Quantity } from "../units";

const props = defineProps<{
  modelValue: number | null | undefined;
  label: string;
  /** The figure of the job's schema that it is, as "Opening.width_m": what it measures, its range, what it means. */
  of?: string;
  quantity?: Quantity;
  /** Allowed range, SI. */
  min?: number;
  max?: number;
  hint?: string;
  /** What an empty field means; without it a field may not be emptied. */
  empty?: string;
  wide?: boolean;
  /** Why the server does not take what stands here. */
  refused?: string;
}>();
const figure = computed(() => (props.of ? figureOf(props.of) : undefined));
const quantity = computed<Quantity>(() => props.quantity ?? figure.value?.quantity ?? "factor");
const least = computed(() => props.min ?? figure.value?.least ?? -Infinity);
const most = computed(() => props.max ?? figure.value?.most ?? Infinity);
const emit = defineEmits<{ "update:modelValue": [value: number | undefined] }>();

const shown = computed(() =>
  props.modelValue === null || props.modelValue === undefined ? "" : show(quantity.value, props.modelValue, store.units.value),
);
const text = ref(shown.value);
const wrong = ref("");
function reset() {
  text.value = shown.value;
  wrong.value = "";
}
watch(shown, reset);
/** Esc takes back what was typed; with nothing typed it is not the field's. */
function giveUp(e: Event) {
  if (text.value === shown.value && !wrong.value) return;
  e.stopPropagation();
  reset();
}

const told = computed(() => wrong.value || (text.value === shown.value ? (props.refused ?? "") : ""));
const range = computed(() => `${show(quantity.value, least.value, store.units.value)} to ${show(quantity.value, most.value, store.units.value)}`);

function change() {
  const typed = text.value.trim();
  if (typed === shown.value) return reset();
  if (typed === "" && props.empty !== undefined) {
    wrong.value = "";
    emit("update:modelValue", undefined);
    return;
  }
  const value = parse(quantity.value, typed, store.units.value);
  if (value === null) wrong.value = `“${typed}” does not read as a ${props.label.toLowerCase()}`;
  else if (value < least.value - 1e-9 || value > most.value + 1e-9) wrong.value = `${props.label} must be ${range.value}`;
  else {
    wrong.value = "";
    emit("update:modelValue", value);
    text.value = show(quantity.value, value, store.units.value);
  }
}
</script>

<template>
  <span class="quantity-field">
    <ElInput
      v-model="text" class="quantity" :class="{ wide }" size="small" :aria-label="label" :aria-invalid="told !== ''"
      :title="told || `${hint ?? (figure?.says || label)}: ${range}`" :placeholder="empty" autocomplete="off"
      @change="change" @keydown.enter="change" @keydown.esc="giveUp" @focus="($event.target as HTMLInputElement).select()" />
    <span v-if="told" class="wrong" role="alert">{{ told }}</span>
  </span>
</template>

<style>
.quantity-field { display: inline-block; vertical-align: middle; }
.quantity.el-input { width: 96px; }
.quantity.el-input.wide { width: 138px; }
.quantity .el-input__inner { text-align: right; }
.quantity-field .wrong { color: var(--ember); font-size: 12px; line-height: 1.25; white-space: normal; display: block; max-width: 190px; text-align: left; }
</style>
