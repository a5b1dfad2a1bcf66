<script setup lang="ts">
/** The papers of a job, each with its preview: which one is shown stands in the address, so that it can be linked to. */
import { computed, type Component } from "vue";
import { useRoute, useRouter } from "vue-router";
import { answer, api, type PaperEntry } from "../../api/client";
import { store } from "../../job/store";
import { useTrial } from "../../job/trials";
import { taken } from "../../offline/waiting";
import ChoiceField from "../../kit/ChoiceField.vue";
import CrewSheet from "./CrewSheet.vue";
import HeatReport from "./HeatReport.vue";
import LoopPage from "./LoopPage.vue";
import LoopSheet from "./LoopSheet.vue";
import MaterialsSheet from "./MaterialsSheet.vue";
import PdfSheet from "./PdfSheet.vue";
import PlantSheet from "./PlantSheet.vue";
import QuoteSheet from "./QuoteSheet.vue";

const route = useRoute();
const router = useRouter();
const { state, live } = store;
const { state: saving } = store.sync;
/** In the order of the job; `code` is the PDF that holds it. What has no sheet of its own for the browser is shown as PDF. */
const PAPERS: { key: string; title: string; code: string; sheet?: Component }[] = [
  { key: "loops", title: "Loop sheets", code: "loop-sheets", sheet: LoopSheet },
  { key: "loop", title: "One loop", code: "crew-sheets", sheet: LoopPage },
  { key: "crew", title: "Order of laying", code: "crew-sheets", sheet: CrewSheet },
  { key: "heat-loss", title: "Heat loss report", code: "heat-loss", sheet: HeatReport },
  { key: "plant", title: "Plant sheet", code: "plant-sheet", sheet: PlantSheet },
  { key: "manifold-charts", title: "Manifold charts", code: "manifold-charts" },
  { key: "materials", title: "Materials", code: "materials", sheet: MaterialsSheet },
  { key: "quote", title: "Quote", code: "quote", sheet: QuoteSheet },
  { key: "owners-sheet", title: "Owner's sheet", code: "owners-sheet" },
  { key: "labels", title: "Tube labels", code: "labels" },
  { key: "as-laid", title: "As laid", code: "as-laid" },
  { key: "pressure-tests", title: "Pressure tests", code: "pressure-tests" },
  { key: "start-up", title: "Start-up record", code: "start-up" },
  { key: "pack", title: "Inspector's pack", code: "pack" },
];
const { answer: listed } = useTrial<PaperEntry[]>([() => state.id, () => saving.revision, () => live.state.recorded, taken], async () => (state.id ? answer(api.GET("/api/jobs/{id}/papers", { params: { path: { id: state.id } } })) : null));
const missing = (code: string) => listed.value?.find((p) => p.code === code)?.missing;
const shown = computed(() => PAPERS.find((p) => p.key === route.query.sheet) ?? PAPERS[0]!);
const choose = (to: string) => void router.replace({ query: { sheet: to } });
</script>

<template>
  <div class="station">
    <aside class="list no-print" aria-label="All papers">
      <ElMenu :default-active="shown.key" @select="choose">
        <ElMenuItem v-for="p in PAPERS" :key="p.key" :index="p.key"><span>{{ p.title }}</span></ElMenuItem>
      </ElMenu>
      <div class="out">
        <h2>As PDF</h2>
        <p v-if="missing(shown.code)" class="quiet">{{ missing(shown.code) }}</p>
        <a v-else :href="`/api/jobs/${state.id}/papers/${shown.code}.pdf`" download>{{ shown.code === "crew-sheets" ? "Crew sheets" : shown.title }}</a>
        <a v-if="shown.key !== 'pack' && !missing('pack')" :href="`/api/jobs/${state.id}/papers/pack.pdf`" download>Inspector's pack</a>
      </div>
    </aside>
    <component :is="shown.sheet ?? PdfSheet" v-bind="shown.sheet ? {} : { code: shown.code, title: shown.title }">
      <label class="narrow">Show <ChoiceField :model-value="shown.key" :options="PAPERS.map((p) => ({ value: p.key, text: p.title }))" label="Paper to show" @update:model-value="choose" /></label>
    </component>
  </div>
</template>

<style scoped>
.station { display: grid; grid-template-columns: 190px minmax(0, 1fr); min-height: 0; height: 100%; }
.list { overflow: auto; border-right: 1px solid var(--line); background: var(--paper); }
.list .el-menu { border-right: 0; background: none; }
.list .el-menu-item { height: 34px; line-height: 34px; padding: 0 14px !important; }
.list .el-menu-item.is-active { background: var(--ember-soft); color: var(--ink); font-weight: 650; }
.out { display: grid; gap: 6px; padding: 12px 14px; border-top: 1px solid var(--line); margin-top: 6px; }
.out h2 { font-size: 14px; margin: 0; }
.quiet { color: var(--soft); margin: 0; font-size: 13px; }
.narrow { display: none; }
@media (max-width: 900px) {
  .station { grid-template-columns: minmax(0, 1fr); }
  .list { display: none; }
  .narrow { display: revert; }
}
@media print {
  .station { display: block; height: auto; }
}
</style>
