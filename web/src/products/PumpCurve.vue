<script setup lang="ts">
/** A pump's own curve, typed point by point; without points it is one of the library. */
import { Delete, Plus } from "@element-plus/icons-vue";
import { computed } from "vue";
import type { Job, PumpChoice } from "../api/client";
import { valueAt } from "../job/paths";
import { store } from "../job/store";
import JobField from "../kit/JobField.vue";

type Curve = NonNullable<PumpChoice["curve"]>;
const props = defineProps<{ /** Path of the pump in the job. */ path: string; label: string; of: (j: Job) => { curve?: Curve }; /** It has a curve always. */ own?: boolean }>();
const { job } = store;
const points = computed(() => (valueAt(job.value, `${props.path}.curve`) as Curve | undefined) ?? []);
/** A line to begin with: it falls from the first point on. */
const FIRST: Curve = [
  { flow_l_min: 0, head_m: 4 },
  { flow_l_min: 20, head_m: 3 },
  { flow_l_min: 40, head_m: 0.5 },
];
function add() {
  store.edit("type a pump's curve", (j) => {
    const pump = props.of(j);
    const curve = (pump.curve ??= []);
    const last = curve.at(-1);
    if (!last) pump.curve = FIRST.map((p) => ({ ...p }));
    else curve.push({ flow_l_min: last.flow_l_min * 1.25, head_m: last.head_m * 0.8 });
  });
}
/** Fewer than two points make no curve. */
const drop = (i: number) =>
  store.edit("delete a point", (j) => {
    const pump = props.of(j);
    pump.curve!.splice(i, 1);
    if (pump.curve!.length < 2) delete pump.curve;
  });
</script>

<template>
  <table v-if="points.length" class="grid-table" :aria-label="`Curve of the pump of ${label}`">
    <thead><tr><th>Flow</th><th>Head</th><th></th></tr></thead>
    <tbody>
      <tr v-for="(_, i) in points" :key="i">
        <td><JobField :path="`${path}.curve[${i}].flow_l_min`" :label="`Flow of point ${i + 1}, pump of ${label}`" /></td>
        <td><JobField :path="`${path}.curve[${i}].head_m`" :label="`Head of point ${i + 1}, pump of ${label}`" /></td>
        <td><ElButton v-if="!own || points.length > 2" link size="small" :icon="Delete" :aria-label="`Delete point ${i + 1}, pump of ${label}`" @click="drop(i)" /></td>
      </tr>
    </tbody>
  </table>
  <ElButton v-if="points.length < 12" link size="small" :icon="Plus" :aria-label="`${points.length ? 'Another point' : 'Type a curve'}, pump of ${label}`" @click="add">{{ points.length ? "Point" : "Type a curve" }}</ElButton>
</template>
