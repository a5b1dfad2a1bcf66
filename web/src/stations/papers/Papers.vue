<script setup lang="ts">
/** The papers of a job: which one is shown stands in the address, so that it can be linked to. */
import { computed } from "vue";
import { useRoute, useRouter } from "vue-router";
import HeatReport from "./HeatReport.vue";
import LoopPage from "./LoopPage.vue";
import LoopSheet from "./LoopSheet.vue";
import PlantSheet from "./PlantSheet.vue";
import CrewSheet from "./CrewSheet.vue";
import MaterialsSheet from "./MaterialsSheet.vue";
import QuoteSheet from "./QuoteSheet.vue";
import ChoiceField from "../../kit/ChoiceField.vue";

const route = useRoute();
const router = useRouter();
const SHEETS = { loops: "Loop sheet", loop: "One loop", crew: "Order of laying", "heat-loss": "Heat loss report", plant: "Plant sheet", materials: "Materials", quote: "Quote" } as const;
const PAGES = { loops: LoopSheet, loop: LoopPage, crew: CrewSheet, "heat-loss": HeatReport, plant: PlantSheet, materials: MaterialsSheet, quote: QuoteSheet };
const sheet = computed(() => (String(route.query.sheet) in SHEETS ? (String(route.query.sheet) as keyof typeof SHEETS) : "loops"));
const choose = (to: string) => void router.replace({ query: { sheet: to } });
</script>

<template>
  <component :is="PAGES[sheet]">
    <label>Show <ChoiceField :model-value="sheet" :options="SHEETS" label="Paper to show" @update:model-value="choose" /></label>
  </component>
</template>
