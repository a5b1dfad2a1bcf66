<script setup lang="ts">
/** The table of a manifold's balancing valves, as their leaflet has it: turns and flow factor, point by point. */
import { Delete, Plus } from "@element-plus/icons-vue";
import { computed } from "vue";
import type { Manifold } from "../api/client";
import { pathOf } from "../job/paths";
import { store } from "../job/store";
import JobField from "../kit/JobField.vue";

const props = defineProps<{ manifold: Manifold }>();
const { job, units } = store;
const at = computed(() => `${pathOf(job.value, "manifolds", props.manifold.id)}.valve_table`);
const points = computed(() => props.manifold.valve_table ?? []);
type Table = NonNullable<Manifold["valve_table"]>;
/** A table to begin with. */
const FIRST: Table = [
  { turns: 0.5, kv_m3_h: 0.15 },
  { turns: 2.5, kv_m3_h: 1.1 },
];
const set = (label: string, change: (table: Table) => Table) =>
  store.edit(label, (j) => {
    const m = j.manifolds.find((x) => x.id === props.manifold.id);
    if (m) m.valve_table = change(m.valve_table ?? []);
  });
function add() {
  set("type the valves' table", (table) => {
    const last = table.at(-1);
    return last ? [...table, { turns: last.turns + 0.5, kv_m3_h: last.kv_m3_h * 1.2 }] : FIRST.map((p) => ({ ...p }));
  });
}
/** One point is no table. */
const drop = (i: number) => set("delete a point", (table) => (table.length > 2 ? table.filter((_, k) => k !== i) : []));
</script>

<template>
  <section aria-label="Balancing valves">
    <h3>Balancing valves</h3>
    <table v-if="points.length" class="grid-table" aria-label="Table of the balancing valves">
      <thead><tr><th>Turns open</th><th>{{ units === "us" ? "Cv" : "Kv" }}</th><th></th></tr></thead>
      <tbody>
        <tr v-for="(_, i) in points" :key="i">
          <td><JobField :path="`${at}[${i}].turns`" :label="`Turns of point ${i + 1}`" /></td>
          <td><JobField :path="`${at}[${i}].kv_m3_h`" :label="`Flow factor of point ${i + 1}`" /></td>
          <td><ElButton link size="small" :icon="Delete" :aria-label="`Delete point ${i + 1} of the valves`" @click="drop(i)" /></td>
        </tr>
      </tbody>
    </table>
    <p v-else class="soft">With the leaflet's table settings are told in turns.</p>
    <ElButton v-if="points.length < 20" link size="small" :icon="Plus" @click="add">{{ points.length ? "Another point of the valves" : "Type the valves' table" }}</ElButton>
  </section>
</template>

<style scoped>
h3 { margin: 8px 0 2px; }
.soft { color: var(--soft); margin: 0; }
</style>
