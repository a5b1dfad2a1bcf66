<script setup lang="ts">
/** The papers of one job for its owner or an inspector, who came by a link. */
import { onMounted, ref } from "vue";
import { useRoute } from "vue-router";
import { answer, api, type PaperEntry } from "../api/client";
import { told } from "../job/told";
import { useTheme } from "../shell/theme";

useTheme();
const id = String(useRoute().params.id);
const papers = ref<PaperEntry[] | null>(null);
const failed = ref("");

onMounted(async () => {
  try {
    papers.value = await answer(api.GET("/api/jobs/{id}/papers", { params: { path: { id } } }));
  } catch (e) {
    failed.value = told(e);
  }
});
const WHAT: Record<string, string> = {
  "heat-loss": "Which room loses how much heat, and through what.",
  "loop-sheets": "Where the tube lies in every floor.",
  "crew-sheets": "One loop a page, with its turns.",
  "plant-sheet": "Boiler or heat pump, and the piping about it.",
  "manifold-charts": "What each port serves and how it is set.",
  "owners-sheet": "Living with the floor: how warm, how to set it, where not to drill.",
  labels: "For the ends of the tubes.",
  "as-laid": "How the tubes lie, and what was mended where.",
  "pressure-tests": "That the tubes were tight when the floor was closed.",
  pack: "Everything an inspector asks for, in one file.",
};
</script>

<template>
  <main class="handover">
    <h1><img src="/icon.svg" alt="" width="28" height="28" /> Papers</h1>
    <p class="lead">Where the tubes lie must be known before anybody drills: keep these papers with the building's.</p>
    <ElAlert v-if="failed" type="error" :title="failed" :closable="false" show-icon role="alert" />
    <ElSkeleton v-else-if="!papers" :rows="4" animated role="status" aria-label="Reading the papers…" />
    <ul v-else>
      <li v-for="p in papers" :key="p.code">
        <a v-if="!p.missing" :href="`/api/jobs/${id}/papers/${p.code}.pdf`" download><b>{{ p.title }}</b> (PDF)</a>
        <b v-else>{{ p.title }}</b>
        <span>{{ p.missing ?? WHAT[p.code] }}</span>
      </li>
    </ul>
  </main>
</template>

<style scoped>
.handover { max-width: 620px; margin: 0 auto; padding: 32px 20px; }
h1 { display: flex; gap: 10px; align-items: center; font-size: 24px; }
ul { list-style: none; padding: 0; }
li { border-top: 1px solid var(--line); padding: 12px 0; display: grid; gap: 2px; }
li a { min-height: 28px; font-size: 17px; }
li span, .lead { color: var(--soft); }
</style>
