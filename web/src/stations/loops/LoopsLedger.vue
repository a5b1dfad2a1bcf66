<script setup lang="ts">
/** Every loop: how long it is, how it is laid, what it gives. */
import { store } from "../../job/store";
import { show } from "../../units";
import CircuitTable from "./CircuitTable.vue";
import ManifoldPlaces from "./ManifoldPlaces.vue";

const { job, units } = store;
const tube = (id: string) => store.library.value?.tubes.find((t) => t.id === id)?.name;
</script>

<template>
  <CircuitTable>
    <template #head><th class="num">Length</th><th class="num">of the limit</th><th class="num">Leaders</th><th class="num">Spacing</th><th>Tube</th><th class="num">Heat up</th><th class="num">Heat down</th></template>
    <template #tag="{ loop: l }"><template v-if="l.locked"> {{ l.by_hand ? "by hand" : "locked" }}</template></template>
    <template #loop="{ loop: l }">
      <td class="num">{{ show("tube", l.length_m, units) }}</td>
      <td class="num">{{ show("share", l.length_m / l.limit_m, units) }}</td>
      <td class="num">{{ show("tube", l.leader_length_m, units) }}</td>
      <td class="num">{{ show("size", l.spacing_m, units) }}</td>
      <td>{{ tube(l.tube_id) }}</td>
      <td class="num">{{ show("heat", l.output_up_w, units) }}</td>
      <td class="num">{{ show("heat", l.output_down_w, units) }}</td>
    </template>
    <template #field="{ field: f }">
      <td class="num">{{ show("tube", f.of.tube_m, units) }}</td>
      <td colspan="3"></td>
      <td>{{ tube(f.tube) }}</td>
      <td class="num">{{ show("heat", f.of.heat_w, units) }}</td>
      <td class="num">{{ show("heat", f.of.back_w, units) }}</td>
    </template>
    <ManifoldPlaces v-if="job?.rooms.length && !job.manifolds.length" />
  </CircuitTable>
</template>
