<script setup lang="ts">
/** Rooms and openings from files and to files. An import is one step of undo; what was not taken stands here by line. */
import { ref } from "vue";
import { answer, api, type ImportProblem, type Job } from "../../api/client";
import { store } from "../../job/store";
import ChoiceField from "../../kit/ChoiceField.vue";
import FilePick from "../../kit/FilePick.vue";

const { state, level } = store;
const problems = ref<ImportProblem[]>([]);
const done = ref("");
const unit = ref("");
const UNITS = { "": "as the drawing says", "0.001": "mm", "0.01": "cm", "1": "m", "0.0254": "in", "0.3048": "ft" } as const;

async function read(file: File) {
  problems.value = [];
  done.value = "";
  if (file.size > 24 * 2 ** 20) {
    state.refusal = `${file.name} has ${Math.round(file.size / 2 ** 20)} MB; 24 MB is the most.`;
    return;
  }
  const text = await file.text();
  const ending = file.name.toLowerCase().split(".").at(-1);
  const level_id = level.value!.id;
  const head = text.slice(0, 400).split("\n")[0]!.toLowerCase();
  const openings = ending === "csv" && head.includes("kind");
  const format = ending === "dxf" ? "dxf" : ending === "csv" ? "csv" : ending === "geojson" || ending === "json" ? "geojson" : null;
  if (!format) {
    state.refusal = `${file.name}: rooms are read from DXF, GeoJSON and CSV.`;
    return;
  }
  const got = openings
    ? await store.editThere("import openings", (job) => answer(api.POST("/api/import/openings", { body: { job, text } })), (i) => i.job as Job)
    : await store.editThere("import rooms", (job) => answer(api.POST("/api/import/rooms", { body: { job, level_id, format, text, unit_m: unit.value ? Number(unit.value) : null } })), (i) => i.job as Job);
  if (!got) return;
  problems.value = got.problems;
  const what = openings ? "openings" : "rooms";
  done.value = `${file.name}: ${got.added} ${what} added${got.changed ? `, ${got.changed} changed` : ""}.`;
  emit("read");
}
const emit = defineEmits<{ read: [] }>();
defineExpose({ read });
</script>

<template>
  <div class="exchange" role="group" aria-label="Files of rooms">
    <FilePick label="File of rooms or openings" accept=".dxf,.geojson,.json,.csv" @take="read">Read DXF, GeoJSON or CSV</FilePick>
    <label>Unit of a DXF <ChoiceField v-model="unit" :options="UNITS" label="Unit of a DXF" /></label>
    <span class="out">Save
      <a :href="`/api/jobs/${state.id}/rooms.dxf?level=${encodeURIComponent(level?.id ?? '')}`" download>DXF</a>
      <a :href="`/api/jobs/${state.id}/rooms.geojson`" download>GeoJSON</a>
      <a :href="`/api/jobs/${state.id}/survey-rooms.csv`" download>Rooms as CSV</a>
      <a :href="`/api/jobs/${state.id}/survey-openings.csv`" download>Openings as CSV</a>
    </span>
    <p v-if="done" class="done" role="status">{{ done }}</p>
    <p v-if="state.refusal" class="wrong" role="alert">{{ state.refusal }}</p>
    <ul v-if="problems.length" aria-label="What was not taken">
      <li v-for="(p, i) in problems" :key="i"><template v-if="p.line">Line {{ p.line }}: </template>{{ p.reason }}</li>
    </ul>
  </div>
</template>

<style scoped>
.exchange { display: flex; flex-wrap: wrap; gap: 4px 12px; align-items: center; padding: 4px 10px; background: var(--paper); border: 1px solid var(--line); border-top: 0; border-left: 0; max-width: 720px; }
.out { display: inline-flex; gap: 10px; }
ul { flex-basis: 100%; margin: 0; padding-left: 18px; max-height: 130px; overflow: auto; }
p { margin: 0; flex-basis: 100%; }
.wrong { color: var(--ember); font-weight: 600; }
</style>
