<script setup lang="ts">
/** A page as it will be printed, with the bar above it: paper, print, files. The page's size belongs to what is shown. */
import { computed, watchEffect } from "vue";
import { store } from "../../job/store";
import ChoiceField from "../../kit/ChoiceField.vue";

export interface Page {
  name: string;
  /** mm */
  width: number;
  height: number;
  css: string;
}
const props = defineProps<{ label: string; pages: Record<string, Page>; paper: string; margin: number; print: string; /** What is shown is not the job as it stands. */ busy?: boolean }>();
const emit = defineEmits<{ "update:paper": [paper: string] }>();
const page = computed(() => props.pages[props.paper]!);
const { state: saving } = store.sync;
/** What is printed is the design of the job as it stands. */
const { current } = store.designs;
const style = document.createElement("style");
watchEffect((clean) => {
  style.textContent = `@page { size: ${page.value.css}; margin: ${props.margin}mm }`;
  document.head.append(style);
  clean(() => style.remove());
});
const printNow = () => window.print();
</script>

<template>
  <div class="papers" tabindex="0" role="region" :aria-label="label">
    <div class="bar no-print">
      <slot name="bar" />
      <label>Paper <ChoiceField :model-value="paper" :options="Object.entries(pages).map(([k, p]) => ({ value: k, text: p.name }))" label="Paper" @update:model-value="emit('update:paper', $event)" /></label>
      <slot name="more" />
      <ElButton type="primary" :disabled="!current || busy" @click="printNow">{{ current && !busy ? print : "Calculating…" }}</ElButton>
      <span class="files"><slot name="files" /></span>
      <span v-if="saving.save !== 'saved'" class="quiet">files hold the job as last saved</span>
    </div>
    <article class="page" :style="{ width: `${page.width - 2 * margin}mm` }"><slot /></article>
  </div>
</template>

<style scoped>
.papers { overflow: auto; background: var(--faint); padding: 0 0 24px; }
.bar { position: sticky; top: 0; z-index: 2; display: flex; flex-wrap: wrap; gap: 8px 16px; align-items: center; padding: 6px 12px; background: var(--paper); border-bottom: 1px solid var(--line); }
.files { display: flex; gap: 12px; }
.quiet { color: var(--soft); }
.page { background: #fff; margin: 16px auto; padding: 7mm; box-sizing: content-box; font-size: 9pt; }
@media print {
  .papers { overflow: visible; background: none; padding: 0; }
  .page { margin: 0; padding: 0; }
}
</style>
