<script setup lang="ts">
/** Holes through joists, and loops under saw cuts: what is marked before anyone drills or saws. */
import { computed } from "vue";
import type { MaterialsDesign } from "../../api/client";
import { store } from "../../job/store";
import DataTable from "../../kit/DataTable.vue";
import JobField from "../../kit/JobField.vue";
import type { Column } from "../../kit/table";
import { show } from "../../units";

const props = defineProps<{ counted: MaterialsDesign }>();
const { units, job, design } = store;
const roomName = (id: string) => job.value?.rooms.find((r) => r.id === id)?.name ?? "";
const tag = (id: string) => design.value?.loops.find((l) => l.id === id)?.tag ?? "";
type Joist = MaterialsDesign["joists"][number];
const joistColumns: Column<Joist>[] = [
  { key: "room", head: "Room", value: (j) => roomName(j.room_id) },
  { key: "number", head: "Joist", value: (j) => j.number, num: true, title: "Counted from the left wall, or from the lower one" },
  { key: "holes", head: "Holes", value: (j) => j.holes.length, num: true },
  { key: "diameter", head: "Diameter", value: (j) => j.diameter_m, quantity: "thickness" },
  { key: "at", head: "From the wall to the middle of each", text: (j) => j.holes.map((h) => `${show("length", h.from_wall_m, units.value)}${h.near_end ? " (near its end)" : ""}`).join(", ") },
];
type Cut = MaterialsDesign["saw_cuts"][number];
const cutColumns: Column<Cut & { n: number }>[] = [
  { key: "loop", head: "Loop", value: (c) => tag(c.loop_id) },
  { key: "along", head: "From the port", value: (c) => c.along_m, quantity: "tube", title: "Tube from the supply port" },
  { key: "tube", head: "Tube depth", value: (c) => c.tube_depth_m, quantity: "thickness" },
  { key: "saw", head: "Saw depth", value: (c) => c.saw_depth_m, quantity: "thickness" },
  { key: "verdict", head: "", value: (c) => (c.too_shallow ? "too near to the saw" : "clear of the saw, in a sleeve") },
];
const cuts = computed(() => props.counted.saw_cuts.map((c, n) => ({ ...c, n })));
</script>

<template>
  <div class="drilling" tabindex="0" role="region" aria-label="Joists and saw cuts">
    <h3>Drilling list</h3>
    <p class="quiet">Holes weaken joists. Their size, place and number are limited by local code, those of engineered joists by their maker: have this list approved before anyone drills.</p>
    <div class="fields"><label>Hole over the tube <JobField path="purchasing.fixing.hole_over_m" label="Hole over the tube" /></label></div>
    <DataTable :id="(j) => `${j.room_id}-${j.number}`" name="joists" inline :columns="joistColumns" :rows="counted.joists" empty="No tube passes a joist.">
      <template #cell-room="{ row: j }">{{ roomName(j.room_id) }}</template>
    </DataTable>
    <h3>Saw cuts</h3>
    <div class="fields">
      <label>Saw <JobField path="purchasing.fixing.saw_depth_m" label="Depth of the saw" empty="a quarter of the slab" /></label>
      <label>Cover below it <JobField path="purchasing.fixing.saw_cover_m" label="Cover below the saw" /></label>
    </div>
    <DataTable :id="(c) => `${c.mark_id}-${c.n}`" name="saw cuts" inline :columns="cutColumns" :rows="cuts" empty="No loop passes under a saw cut.">
      <template #cell-loop="{ row: c }"><ElButton link type="primary" @click="store.select({ kind: 'loop', id: c.loop_id })">{{ tag(c.loop_id) }}</ElButton></template>
    </DataTable>
  </div>
</template>

<style scoped>
.drilling { flex: 1; min-height: 0; overflow: auto; padding: 6px 14px; }
.drilling :deep(.scroll) { overflow: visible; }
h3 { margin: 10px 0 2px; }
.fields { display: flex; gap: 6px 18px; flex-wrap: wrap; }
.fields label { display: inline-flex; gap: 6px; align-items: center; }
.quiet { color: var(--soft); margin: 2px 0; }
</style>
