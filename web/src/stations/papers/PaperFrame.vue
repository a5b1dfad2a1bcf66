<script setup lang="ts">
/** A page as it will be printed, with the bar above it: paper, print, files. The page's size belongs to what is shown. */
import { useElementSize } from "@vueuse/core";
import { computed, ref, watchEffect } from "vue";
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
/** On the screen a page that is wider than its room is shown smaller; printed it has its size. */
const frame = ref<HTMLElement>();
const { width: room } = useElementSize(frame);
const MM = 96 / 25.4;
/** Blank beside the page on the screen, px, and inside its edge, mm. */
const BESIDE = 24;
const INSIDE = 7;
const fit = computed(() => Math.min(1, Math.max(0.3, (room.value - BESIDE) / ((page.value.width - 2 * props.margin + 2 * INSIDE) * MM))));
// a sheet of its own: the page's policy allows no style written into it
const style = new CSSStyleSheet();
watchEffect((clean) => {
  style.replaceSync(`@page { size: ${page.value.css}; margin: ${props.margin}mm }`);
  document.adoptedStyleSheets.push(style);
  clean(() => (document.adoptedStyleSheets = document.adoptedStyleSheets.filter((s) => s !== style)));
});
const printNow = () => window.print();
</script>

<template>
  <div ref="frame" class="papers" tabindex="0" role="region" :aria-label="label">
    <div class="bar no-print">
      <slot name="bar" />
      <label>Paper <ChoiceField :model-value="paper" :options="Object.entries(pages).map(([k, p]) => ({ value: k, text: p.name }))" label="Paper" @update:model-value="emit('update:paper', $event)" /></label>
      <slot name="more" />
      <ElButton type="primary" :disabled="!current || busy" @click="printNow">{{ current && !busy ? print : "Calculating…" }}</ElButton>
      <span class="files"><slot name="files" /></span>
      <span v-if="saving.save !== 'saved'" class="quiet">files hold the job as last saved</span>
    </div>
    <article v-if="room > 0" class="page" :style="{ width: `${page.width - 2 * margin}mm`, '--fit': fit }"><slot /></article>
  </div>
</template>

<style scoped>
.papers { overflow: auto; background: var(--faint); padding: 0 0 24px; }
.bar { position: sticky; top: 0; z-index: 2; display: flex; flex-wrap: wrap; gap: 8px 16px; align-items: center; padding: 6px 12px; background: var(--paper); border-bottom: 1px solid var(--line); }
.files { display: flex; gap: 12px; }
.quiet { color: var(--soft); }
.page { background: #fff; margin: 16px auto; padding: 7mm; box-sizing: content-box; font-size: 9pt; }
@media screen {
  .page { zoom: var(--fit); }
}
@media print {
  .papers { overflow: visible; background: none; padding: 0; }
  .page { margin: 0; padding: 0; }
}
</style>
