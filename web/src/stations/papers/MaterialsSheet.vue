<script setup lang="ts">
/** What goes into the van: every article with its amount, group by group, and the holes to be drilled. Without prices. */
import { computed } from "vue";
import { store } from "../../job/store";
import { show } from "../../units";
import { GROUPS } from "../../words";
import { UNIT_QUANTITY, useMaterials, type CountUnit } from "../materials/counted";
import { UPRIGHT, UPRIGHT_MARGIN, usualPaper } from "./pages";
import PaperFrame from "./PaperFrame.vue";

const { job, units, state } = store;
const paper = usualPaper();
const { answer, trouble, old } = useMaterials();
const counted = computed(() => (trouble.value ? null : answer.value));
const groups = computed(() => (Object.keys(GROUPS) as (keyof typeof GROUPS)[]).map((g) => ({ name: GROUPS[g], lines: (counted.value?.lines ?? []).filter((l) => l.group === g) })).filter((g) => g.lines.length));
const amount = (unit: string, v: number) => show(UNIT_QUANTITY[unit as CountUnit], v, units.value);
const roomName = (id: string) => job.value?.rooms.find((r) => r.id === id)?.name;
</script>

<template>
  <PaperFrame v-model:paper="paper" :busy="old" label="Materials" :pages="UPRIGHT" :margin="UPRIGHT_MARGIN" print="Print the materials">
    <template #bar><slot /></template>
    <template #files><a :href="`/api/jobs/${state.id}/order.csv`" download>Order list as CSV</a></template>
    <h1>Materials</h1>
    <p>{{ job?.name }}. Counted from the drawing; packs are whole.</p>
    <p v-if="trouble" role="alert">Materials are not counted: {{ trouble }}</p>
    <p v-else-if="!counted">Counting…</p>
    <section v-for="g in groups" :key="g.name" :aria-label="g.name">
      <h2>{{ g.name }}</h2>
      <table class="grid-table">
        <thead><tr><th>Article</th><th class="num">Counted</th><th class="num">To order</th><th class="tick">In the van</th></tr></thead>
        <tbody><tr v-for="l in g.lines" :key="l.article"><td>{{ l.name }}</td><td class="num">{{ amount(l.unit, l.quantity) }}</td><td class="num"><b>{{ amount(l.unit, l.order) }}</b></td><td class="tick">☐</td></tr></tbody>
      </table>
    </section>
    <section v-if="counted?.joists.length" aria-label="Drilling list">
      <h2>Drilling list</h2>
      <p>For approval before anyone drills: local code and the joist's maker come first.</p>
      <table class="grid-table">
        <thead><tr><th>Room</th><th class="num">Joist</th><th class="num">Diameter</th><th>From the wall to the middle of each hole</th></tr></thead>
        <tbody><tr v-for="j in counted.joists" :key="`${j.room_id}-${j.number}`"><td>{{ roomName(j.room_id) }}</td><td class="num">{{ j.number }}</td><td class="num">{{ show("thickness", j.diameter_m, units) }}</td><td>{{ j.holes.map((h) => show("length", h.from_wall_m, units)).join(", ") }}</td></tr></tbody>
      </table>
    </section>
  </PaperFrame>
</template>

<style scoped>
h1 { font-size: 16pt; margin: 0; }
h2 { font-size: 11pt; margin: 4mm 0 1mm; }
p { margin: 0 0 2mm; }
.grid-table { width: 100%; font-size: 9pt; }
.grid-table th { position: static; background: none; }
.grid-table td { height: auto; padding: 0.6mm 1.5mm; white-space: normal; }
.tick { text-align: center; width: 24mm; }
</style>
