<script setup lang="ts">
/** A paper that is made as PDF alone, looked at before it is printed or sent. */
import { computed } from "vue";
import { store } from "../../job/store";
import ChoiceField from "../../kit/ChoiceField.vue";
import { taken } from "../../offline/waiting";
import { usualPaper } from "./pages";
import PdfPreview from "./PdfPreview.vue";

const props = defineProps<{ code: string; title: string }>();
const { state, live } = store;
const { state: saving } = store.sync;
const format = usualPaper();
const FORMATS = { a4: "A4", letter: "US letter" } as const;
const file = computed(() => `/api/jobs/${state.id}/papers/${props.code}.pdf?format=${format.value}`);
/** Made anew when the job has been saved again, or something was written down on site. */
const fresh = computed(() => `${file.value}&of=${saving.revision}.${taken.value + live.state.recorded}`);
</script>

<template>
  <div class="papers" tabindex="0" role="region" :aria-label="title">
    <div class="bar no-print">
      <slot />
      <label>Paper <ChoiceField v-model="format" :options="FORMATS" label="Paper" /></label>
      <a :href="file" download>Download the PDF</a>
      <span v-if="saving.save !== 'saved'" class="quiet">shows the job as last saved</span>
    </div>
    <PdfPreview :url="fresh" :title="title" />
  </div>
</template>

<style scoped>
.papers { overflow: auto; background: var(--faint); padding: 0 0 24px; }
.bar { position: sticky; top: 0; z-index: 2; display: flex; flex-wrap: wrap; gap: 8px 16px; align-items: center; padding: 6px 12px; margin-bottom: 14px; background: var(--paper); border-bottom: 1px solid var(--line); }
.quiet { color: var(--soft); }
</style>
