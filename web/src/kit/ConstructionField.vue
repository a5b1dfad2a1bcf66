<script setup lang="ts">
/** Chooses a construction: the job's own first, then the library's by how good they are, each with its U. */
import { computed } from "vue";
import type { Construction, Position } from "../api/client";
import { constructionsFor, uOf } from "../job/constructions";
import { store } from "../job/store";
import { show } from "../units";
import ChoiceField from "./ChoiceField.vue";

const props = defineProps<{ modelValue: string | null | undefined; positions: Position[]; label: string; empty?: string }>();
const emit = defineEmits<{ "update:modelValue": [value: string | undefined] }>();
const text = (c: Construction) => `${c.name}, U ${show("transmittance", uOf(c.id), store.units.value).split(" ")[0]}`;
const options = computed(() => constructionsFor(props.positions).flatMap((g) => g.constructions.map((c) => ({ value: c.id, text: text(c), group: g.name }))));
</script>

<template>
  <ChoiceField :model-value="modelValue" :label="label" :options="options" :empty="empty" @update:model-value="emit('update:modelValue', $event)" />
</template>
