<script setup lang="ts">
/** Button that opens the choice of a table's columns. */
import { Operation } from "@element-plus/icons-vue";
defineProps<{ names: Record<string, string> }>();
const shown = defineModel<string[]>({ required: true });
</script>

<template>
  <ElPopover trigger="click" placement="top-end" :width="200" :persistent="false">
    <template #reference><ElButton size="small" text :icon="Operation">Columns</ElButton></template>
    <ElCheckboxGroup v-model="shown" class="list" aria-label="Columns">
      <ElCheckbox v-for="(name, key) in names" :key="key" :value="key">{{ name }}</ElCheckbox>
    </ElCheckboxGroup>
  </ElPopover>
</template>

<style scoped>
.list { display: flex; flex-direction: column; }
</style>
