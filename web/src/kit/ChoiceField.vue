<script setup lang="ts" generic="T extends string | number">
/** A choice of one: Element Plus's select, with what an empty choice means, and groups where there are many. */
import { computed } from "vue";

export interface Choice<V> {
  value: V;
  text: string;
  group?: string;
}
const props = defineProps<{
  modelValue: T | null | undefined;
  /** By value, or in an order of their own. */
  options: Partial<Record<string, string>> | Choice<T>[];
  label: string;
  /** What no choice means; without it there is always one. */
  empty?: string;
  disabled?: boolean;
}>();
const emit = defineEmits<{ "update:modelValue": [value: T] }>();

/** Element Plus takes an empty string for nothing chosen: no choice needs a value of its own. */
const NONE = "\u0000";
const list = computed<Choice<T>[]>(() => (Array.isArray(props.options) ? props.options : Object.entries(props.options).map(([value, text]) => ({ value: value as T, text: text ?? value }))));
const groups = computed(() => {
  const out = new Map<string, Choice<T>[]>();
  for (const o of list.value) out.set(o.group ?? "", [...(out.get(o.group ?? "") ?? []), o]);
  return [...out].map(([name, options]) => ({ name, options }));
});
const value = computed(() => props.modelValue ?? NONE);
const text = computed(() => (props.modelValue === null || props.modelValue === undefined ? (props.empty ?? "") : (list.value.find((o) => o.value === props.modelValue)?.text ?? String(props.modelValue))));
const pick = (v: T | typeof NONE) => emit("update:modelValue", (v === NONE ? undefined : v) as T);
</script>

<template>
  <ElSelect class="choice" size="small" :model-value="value" :aria-label="label" :disabled="disabled" :persistent="false" fit-input-width :show-arrow="false" popper-class="choice-list" @update:model-value="pick">
    <template #label><span :title="text">{{ text }}</span></template>
    <ElOption v-if="empty !== undefined" :value="NONE" :label="empty" />
    <template v-for="g in groups" :key="g.name">
      <ElOptionGroup v-if="g.name" :label="g.name"><ElOption v-for="o in g.options" :key="o.value" :value="o.value" :label="o.text" /></ElOptionGroup>
      <template v-else><ElOption v-for="o in g.options" :key="o.value" :value="o.value" :label="o.text" /></template>
    </template>
  </ElSelect>
</template>

<style>
.choice { width: 100%; min-width: 84px; }
.choice-list .el-select-dropdown__item { height: auto; min-height: 30px; line-height: 1.3; padding: 6px 12px; white-space: normal; }
</style>
