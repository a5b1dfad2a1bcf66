<script setup lang="ts">
/** All arrangements of this plant side by side: which water the source needs, what comes back, what pumps take. */
import { computed, ref } from "vue";
import { answer, api, type ArrangementFigures } from "../../api/client";
import { store } from "../../job/store";
import { useTrial } from "../../job/trials";
import DataTable from "../../kit/DataTable.vue";
import type { Column } from "../../kit/table";
import { show } from "../../units";
import { ARRANGEMENTS } from "../../words";
import PipingDiagram from "./PipingDiagram.vue";

const { job, design, units } = store;
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

/** The one that is drawn beside this plant's: series and headers are what is argued about, so they are the first two. */
const chosen = ref<ArrangementFigures["arrangement"]>();
const others = computed(() => rows.value.filter((r) => !now(r) && !r.refused));
const FIRST = ["tees_with_headers", "tees_in_series"];
const beside = computed(() => rows.value.find((r) => r.arrangement === chosen.value && !now(r)) ?? others.value.find((r) => FIRST.includes(r.arrangement)) ?? others.value[0]);
const { answer: other, trouble: besideTrouble, old: besideOld } = useTrial([() => design.value, () => beside.value?.arrangement], async () =>
  job.value?.plant && beside.value ? answer(api.POST("/api/plant/try", { body: { job: store.seen(job.value) as never, trial: { arrangement: beside.value.arrangement } } })) : null,
);
const drawn = computed(() => [
  { key: "now", name: "this plant", state: design.value?.plant?.state, old: false },
  { key: "beside", name: "beside it", state: other.value, old: besideOld.value },
]);
</script>

<template>
  <div class="compare" :class="{ old }">
    <p v-if="trouble" role="alert">The arrangements are not calculated: {{ trouble }}</p>
    <DataTable :id="(r) => r.arrangement" name="arrangements" :columns="columns" :rows="rows" :chosen="(r) => now(r) || r === beside" :blank="(r) => r.refused?.replace(/^plant[.\w]*: /, '')" empty="Calculating…" @choose="chosen = $event.arrangement">
      <template #cell-take="{ row: r }"><b v-if="now(r)">this plant</b><ElButton v-else size="small" :disabled="!!r.refused" :aria-label="`Take ${ARRANGEMENTS[r.arrangement]}`" @click="take(r)">Take it</ElButton></template>
    </DataTable>
    <p v-if="besideTrouble" role="alert">Not drawn: {{ besideTrouble }}</p>
    <div class="beside">
      <template v-for="d in drawn" :key="d.key">
        <figure v-if="d.state" :class="{ old: d.old }" role="group" :aria-label="`${ARRANGEMENTS[d.state.arrangement]}, ${d.name}`">
          <figcaption><b>{{ ARRANGEMENTS[d.state.arrangement] }}</b>, {{ d.name }}: source {{ show("temperature", d.state.sources[0]?.leaves_c, units) }}, return {{ show("temperature", d.state.sources[0]?.returns_c, units) }}</figcaption>
          <PipingDiagram :state="d.state" still />
        </figure>
      </template>
    </div>
    <p class="quiet">The same source, circuits and pumps in each. In series the second circuit has water that the first has cooled; headers give all of a pair the same.</p>
  </div>
</template>

<style scoped>
.compare { position: relative; padding: 26px 14px 8px; display: flex; flex-direction: column; min-height: 0; }
.beside { display: grid; grid-template-columns: 1fr 1fr; gap: 12px; }
.beside figure { margin: 8px 0; min-width: 0; }
@media (max-width: 900px) { .beside { grid-template-columns: minmax(0, 1fr); } }
.compare :deep(.scroll) { flex: none; }
.quiet { color: var(--soft); }
</style>
