<script setup lang="ts">
/** The circuits as a table; which figures stand in it is the station's. */
import { computed } from "vue";
import { store } from "../../job/store";
import DataTable from "../../kit/DataTable.vue";
import type { Column } from "../../kit/table";
import { useCircuits, WHICH, type CircuitRow } from "./circuits";

const props = defineProps<{ figures: Column<CircuitRow>[]; feet?: Record<string, string>[] }>();
const { job, design, where } = store;
const rows = useCircuits();
const columns = computed(() => [...WHICH, ...props.figures]);
const empty = computed(() => (!design.value ? "Calculating…" : job.value?.manifolds.length ? "No loops could be drawn: the verdict says why." : "No loops yet. Hang a manifold at Rooms (M) and they draw themselves."));
const choose = (r: CircuitRow) => r.loop && store.select({ kind: "loop", id: r.loop.id });
</script>

<template>
  <DataTable :id="(r) => r.id" name="loops" :columns="columns" :rows="rows" :chosen="(r) => where.selection?.id === r.id" :feet="feet" :empty="empty" @choose="choose">
    <template #cell-loop="{ row: r }">
      <ElButton v-if="r.loop" link type="primary" @click="choose(r)">{{ r.tag }}</ElButton><template v-else>{{ r.tag }}</template>
      <template v-if="r.loop?.locked"> {{ r.loop.by_hand ? "by hand" : "locked" }}</template>
    </template>
    <slot />
  </DataTable>
</template>
