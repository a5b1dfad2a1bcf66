<script setup lang="ts">
/** The papers of a job: which one is shown stands in the address, so that it can be linked to. */
import { computed } from "vue";
import { useRoute, useRouter } from "vue-router";
import HeatReport from "./HeatReport.vue";
import LoopPage from "./LoopPage.vue";
import LoopSheet from "./LoopSheet.vue";

const route = useRoute();
const router = useRouter();
const SHEETS = { loops: "Loop sheet", loop: "One loop", "heat-loss": "Heat loss report" } as const;
const PAGES = { loops: LoopSheet, loop: LoopPage, "heat-loss": HeatReport };
const sheet = computed(() => (String(route.query.sheet) in SHEETS ? (String(route.query.sheet) as keyof typeof SHEETS) : "loops"));
const choose = (e: Event) => void router.replace({ query: { sheet: (e.target as HTMLSelectElement).value } });
</script>

<template>
  <component :is="PAGES[sheet]">
    <label>Show <select :value="sheet" aria-label="Paper to show" @change="choose"><option v-for="(name, key) in SHEETS" :key="key" :value="key">{{ name }}</option></select></label>
  </component>
</template>
