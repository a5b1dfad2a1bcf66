<script setup lang="ts">
/**
 * One figure of the job, by its path: range, unit and meaning come from the job's schema, and what the server refuses of it
 * stands beside it.
 */
import { computed } from "vue";
import { figureAt, putAt, valueAt } from "../job/paths";
import { store } from "../job/store";
import type { Quantity } from "../units";
import QuantityField from "./QuantityField.vue";

const props = defineProps<{
  path: string;
  label: string;
  /** More than the schema says of it. */
  hint?: string;
  /** What an empty field means; without it a field may not be emptied. */
  empty?: string;
  wide?: boolean;
  /** Where it is read in another unit than its kind's. */
  quantity?: Quantity;
  /** What the edit is called; else by the label. */
  edit?: string;
  /** Where more changes than the figure. */
  write?: (value: number | undefined) => void;
}>();

const figure = computed(() => figureAt(props.path));
const value = computed(() => (valueAt(store.job.value, props.path) as number | null | undefined) ?? (props.empty === undefined ? (figure.value.usual ?? 0) : undefined));
const refused = computed(() => store.refusals.value.find((p) => p.field === props.path)?.detail.replace(props.path, props.label) ?? "");
const name = computed(() => props.edit ?? `set ${props.label[0]!.toLowerCase()}${props.label.slice(1)}`);
function set(v: number | undefined) {
  const clean = v !== undefined && figure.value.whole ? Math.round(v) : v;
  if (props.write) props.write(clean);
  else store.edit(name.value, (j) => putAt(j, props.path, clean));
}
</script>

<template>
  <QuantityField
    :model-value="value" :quantity="quantity ?? figure.quantity" :label="label" :min="figure.least" :max="figure.most"
    :hint="hint ?? (figure.says || label)" :empty="empty" :wide="wide" :refused="refused" @update:model-value="set" />
</template>
