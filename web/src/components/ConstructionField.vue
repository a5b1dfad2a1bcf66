<script setup lang="ts">
/** Chooses a construction: the job's own first, then the library's by how good they are, each with its U. */
import { computed } from "vue";
import type { Construction, Position } from "../api/client";
import { constructionsFor, uOf } from "../job/constructions";
import { store } from "../job/store";
import { show } from "../units";

const props = defineProps<{ modelValue: string | null | undefined; positions: Position[]; label: string; empty?: string }>();
const emit = defineEmits<{ "update:modelValue": [value: string | undefined] }>();
const groups = computed(() => constructionsFor(props.positions));
const text = (c: Construction) => `${c.name}, U ${show("transmittance", uOf(c.id), store.units.value).split(" ")[0]}`;
</script>

<template>
  <select :aria-label="label" :title="label" :value="modelValue ?? ''" @change="emit('update:modelValue', ($event.target as HTMLSelectElement).value || undefined)">
    <option v-if="empty !== undefined" value="">{{ empty }}</option>
    <optgroup v-for="g in groups" :key="g.name" :label="g.name">
      <option v-for="c in g.constructions" :key="c.id" :value="c.id">{{ text(c) }}</option>
    </optgroup>
  </select>
</template>
