<script setup lang="ts">
/** The tools of the station on the sheet, in one row; what else a bar holds follows them. */
import ToolButton from "../kit/ToolButton.vue";
import { store } from "../job/store";
import { useSheet } from "./context";

defineProps<{ label: string }>();
const sheet = useSheet();
</script>

<template>
  <div class="bar no-print">
    <div class="tools" role="toolbar" :aria-label="label">
      <ToolButton v-for="t in sheet.box.tools.filter((t) => !t.aside && (t.fits?.() ?? true))" :key="t.id" :name="(store.job.value?.outdoors && t.outdoors) || t.name" :icon="t.icon" :hotkey="t.key" :on="sheet.box.active.id === t.id" @click="sheet.box.choose(t.id)" />
      <slot name="tools" />
    </div>
    <slot />
    <!-- floats over the sheet, so that choosing a tool does not move the plan -->
    <div class="stack">
      <slot name="stack" />
      <p v-if="sheet.box.hand.problem" class="float wrong" role="alert">{{ sheet.box.hand.problem }}</p>
      <p v-else-if="sheet.box.active.hint()" class="float hint" role="status">{{ sheet.box.active.hint() }}</p>
    </div>
  </div>
</template>

<style scoped>
.bar { position: relative; z-index: 3; border-bottom: 1px solid var(--line); padding: 1px 6px; background: var(--paper); display: flex; gap: 4px 12px; align-items: center; min-width: 0; }
.tools { display: flex; min-width: 0; overflow-x: auto; scrollbar-width: none; }
.stack { position: absolute; top: 100%; left: 0; display: flex; flex-direction: column; align-items: flex-start; /* leaves the levels free */ max-width: calc(100% - 140px); pointer-events: none; }
.stack > :deep(*) { pointer-events: auto; }
.stack :deep(.float) { margin: 0; padding: 4px 10px; background: var(--paper); border: 1px solid var(--line); border-top: 0; border-left: 0; }
.hint { color: var(--soft); }
.wrong { color: var(--ember); font-weight: 600; }
@media (max-width: 900px) { .stack { max-width: 100%; } .bar { flex-wrap: wrap; } }
</style>
