<script setup lang="ts">
/** What a heat pump gives, by outdoor and water temperature. */
import { Delete, Plus } from "@element-plus/icons-vue";
import { computed } from "vue";
import { store } from "../../job/store";
import JobField from "../../kit/JobField.vue";
import { symbol } from "../../units";

const props = defineProps<{ which: "source" | "second" }>();
const { job, units } = store;
const points = computed(() => job.value?.plant?.[props.which]?.points ?? []);
const at = (i: number, key: string) => `plant.${props.which}.points[${i}].${key}`;
const list = (j: NonNullable<typeof job.value>) => (j.plant![props.which]!.points ??= []);
const add = () => store.edit("add a point", (j) => void list(j).push({ outdoor_c: 0, water_c: 35, output_w: j.plant![props.which]!.most_w, cop: 3, ...list(j).at(-1) }));
const drop = (i: number) => store.edit("delete a point", (j) => void list(j).splice(i, 1));
</script>

<template>
  <div class="points" tabindex="0" role="region" aria-label="Table of the heat pump">
    <table class="grid-table">
      <thead><tr><th>Outdoors</th><th>Water</th><th>Output, {{ symbol("heat", units) }}</th><th>COP</th><th></th></tr></thead>
      <tbody>
        <tr v-for="(_, i) in points" :key="i">
          <td><JobField :path="at(i, 'outdoor_c')" :label="`Outdoors, point ${i + 1}`" /></td>
          <td><JobField :path="at(i, 'water_c')" :label="`Water, point ${i + 1}`" /></td>
          <td><JobField :path="at(i, 'output_w')" :label="`Output, point ${i + 1}`" /></td>
          <td><JobField :path="at(i, 'cop')" :label="`COP, point ${i + 1}`" /></td>
          <td><ElButton link size="small" :icon="Delete" :aria-label="`Delete point ${i + 1}`" @click="drop(i)" /></td>
        </tr>
      </tbody>
    </table>
  </div>
  <ElButton size="small" :icon="Plus" @click="add">Point</ElButton>
</template>

<style scoped>
.points { max-height: 220px; overflow: auto; margin-bottom: 6px; }
</style>
