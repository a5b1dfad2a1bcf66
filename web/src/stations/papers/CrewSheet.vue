<script setup lang="ts">
/** The order of laying, coil by coil: which loop comes next, at which mark it begins and is cut, and the cautions at their marks. */
import { computed } from "vue";
import type { CutDesign } from "../../api/client";
import { store } from "../../job/store";
import { show, whole } from "../../units";
import { cautionsOf } from "../materials/cautions";
import { useMaterials } from "../materials/counted";
import { UPRIGHT, UPRIGHT_MARGIN, usualPaper } from "./pages";
import PaperFrame from "./PaperFrame.vue";

const { job, design, units } = store;
const paper = usualPaper();
const { answer, trouble, old } = useMaterials();
const counted = computed(() => (trouble.value ? null : answer.value));
const tube = (m: number) => show("tube", m, units.value);
const loop = (id: string) => design.value?.loops.find((l) => l.id === id);
const rooms = (id: string) => loop(id)?.room_ids.map((r) => job.value?.rooms.find((x) => x.id === r)?.name).join(", ") ?? "";
const coils = computed(() => (counted.value?.coils ?? []).flatMap((t) => t.coils.map((c) => ({ ...c, tube: t.name }))));
const caution = (cut: CutDesign) => [...cautionsOf(counted.value!, cut.loop_id, cut.port_m, tube, (m) => show("thickness", m, units.value)), ...(loop(cut.loop_id)?.riser_m ? ["through the floor"] : [])].join("; ");
const work = computed(() => counted.value?.work);
</script>

<template>
  <PaperFrame v-model:paper="paper" :busy="old" label="Order of laying" :pages="UPRIGHT" :margin="UPRIGHT_MARGIN" print="Print the order of laying">
    <template #bar><slot /></template>
    <h1>Order of laying</h1>
    <p>{{ job?.name }}. Coil by coil, the farthest loops first; marks, those of the cautions too, count from a coil's free end. Each loop is cut with its tails.</p>
    <p v-if="trouble" role="alert">Not planned: {{ trouble }}</p>
    <p v-else-if="!counted">Counting…</p>
    <section v-for="c in coils" :key="`${c.tube}-${c.coil}`" :aria-label="`Coil ${c.coil}`">
      <h2>{{ c.coil }} <span>{{ tube(c.length_m) }} of {{ c.tube }}<template v-if="c.missing_m > 0">: {{ tube(c.missing_m) }} missing</template><template v-else>, {{ tube(c.left_m) }} left</template></span></h2>
      <table class="grid-table">
        <thead><tr><th>Loop</th><th>Room</th><th class="num">Begins at mark</th><th class="num">Cut at mark</th><th class="num">On the floor</th><th>Caution</th><th>Laid</th></tr></thead>
        <tbody><tr v-for="cut in c.cuts" :key="cut.loop_id"><td><b>{{ cut.tag }}</b></td><td>{{ rooms(cut.loop_id) }}</td><td class="num"><b>{{ tube(cut.from_m) }}</b></td><td class="num"><b>{{ tube(cut.to_m) }}</b></td><td class="num">{{ tube(cut.drawn_m) }}</td><td>{{ whole(caution(cut)) }}</td><td>☐</td></tr></tbody>
      </table>
    </section>
    <section v-if="work?.tasks.length" aria-label="Tasks">
      <h2>Tasks</h2>
      <table class="grid-table"><tbody><tr v-for="t in work.tasks" :key="t.name"><td>☐ {{ t.name }}</td><td>{{ t.how }}</td><td class="num">{{ show("time", t.time_s, units) }}</td></tr></tbody></table>
      <p>{{ work.days.toFixed(1) }} working days of the crew. Tubes stay under pressure while anything is poured; the gauge in sight.</p>
    </section>
  </PaperFrame>
</template>

<style scoped>
h1 { font-size: 16pt; margin: 0; }
h2 { font-size: 12pt; margin: 4mm 0 1mm; break-after: avoid; }
h2 span { font-weight: 400; font-size: 9pt; color: var(--soft); margin-left: 2mm; }
p { margin: 0 0 2mm; }
.grid-table { width: 100%; font-size: 9pt; table-layout: fixed; }
th:nth-child(1), th:last-child { width: 12mm; }
th.num { width: 21mm; }
th:nth-child(2) { width: 34mm; }
.grid-table th { position: static; background: none; white-space: normal; }
.grid-table td { height: auto; padding: 0.8mm 1.5mm; white-space: normal; }
</style>
