<script setup lang="ts">
/** All arrangements of this plant side by side: which water the source needs, what comes back, what pumps take. */
import { computed } from "vue";
import { answer, api, type ArrangementFigures } from "../../api/client";
import { store } from "../../job/store";
import { useTrial } from "../../job/trials";
import DataTable from "../../kit/DataTable.vue";
import type { Column } from "../../kit/table";
import { ARRANGEMENTS } from "../../words";

const { job, design } = store;
const { answer: figures, trouble, old } = useTrial([() => design.value], async () => (job.value?.plant ? answer(api.POST("/api/plant/compare", { body: { job: store.seen(job.value) as never, trial: {} } })) : null));
const rows = computed(() => figures.value ?? []);
const now = (r: ArrangementFigures) => r.arrangement === job.value?.plant?.arrangement;
const columns: Column<ArrangementFigures>[] = [
  { key: "name", head: "Arrangement", value: (r) => ARRANGEMENTS[r.arrangement] },
  { key: "source", head: "Source", value: (r) => r.source_c, quantity: "temperature", title: "Temperature at which its water leaves on the design day" },
  { key: "returns", head: "Return", value: (r) => r.returns_c, quantity: "temperature" },
  { key: "flow", head: "Flow", value: (r) => r.flow_l_min, quantity: "flow" },
  { key: "short", head: "Short by", value: (r) => r.short_k, quantity: "difference", title: "By how much a circuit lacks supply temperature" },
  { key: "pumps", head: "Pumps", value: (r) => r.pumps_w, quantity: "power" },
  { key: "condensing", head: "Condensing, h", value: (r) => r.condensing_h, quantity: "count", title: "Hours of the year, by the weather file" },
  { key: "seasonal", head: "Seasonal", value: (r) => r.seasonal, quantity: "factor", title: "Heat over electricity of a heat pump over the year" },
  { key: "take", head: "" },
];
const take = (r: ArrangementFigures) => store.edit("choose the arrangement", (j) => (j.plant!.arrangement = r.arrangement));
</script>

<template>
  <div class="compare" :class="{ old }">
    <p v-if="trouble" role="alert">The arrangements are not calculated: {{ trouble }}</p>
    <DataTable :id="(r) => r.arrangement" name="arrangements" :columns="columns" :rows="rows" :chosen="now" :blank="(r) => r.refused?.replace(/^plant[.\w]*: /, '')" empty="Calculating…">
      <template #cell-name="{ row: r }">{{ ARRANGEMENTS[r.arrangement] }}</template>
      <template #cell-take="{ row: r }"><b v-if="now(r)">this plant</b><ElButton v-else size="small" :disabled="!!r.refused" :aria-label="`Take ${ARRANGEMENTS[r.arrangement]}`" @click="take(r)">Take it</ElButton></template>
    </DataTable>
    <p class="quiet">The same source, circuits and pumps in each. In series the second circuit has water that the first has cooled; headers give all of a pair the same.</p>
  </div>
</template>

<style scoped>
.compare { position: relative; padding: 26px 14px 8px; display: flex; flex-direction: column; min-height: 0; }
.quiet { color: var(--soft); }
</style>
