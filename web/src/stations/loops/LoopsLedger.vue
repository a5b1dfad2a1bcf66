<script setup lang="ts">
/** Every loop: how long it is, how it is laid, what it gives. */
import { computed } from "vue";
import ManifoldPlaces from "./ManifoldPlaces.vue";
import { fieldRows } from "../../job/fields";
import { store } from "../../job/store";
import { show } from "../../units";

const { job, design, where, units } = store;
const loops = computed(() => design.value?.loops ?? []);
const fields = computed(() => fieldRows(job.value, design.value));
const names = (ids: string[]) => ids.map((id) => job.value?.rooms.find((r) => r.id === id)?.name).join(", ");
</script>

<template>
  <div class="scroll" tabindex="0" role="region" aria-label="Table of loops">
    <table class="grid-table">
      <thead>
        <tr><th>Loop</th><th>Rooms</th><th class="num">Length</th><th class="num">of the limit</th><th class="num">Leaders</th><th class="num">Spacing</th><th>Tube</th><th class="num">Heat up</th><th class="num">Heat down</th></tr>
      </thead>
      <tbody>
        <tr v-for="l in loops" :key="l.id" :class="{ chosen: where.selection?.id === l.id }">
          <td><ElButton link type="primary" @click="store.select({ kind: 'loop', id: l.id })">{{ l.tag }}</ElButton><template v-if="l.locked"> {{ l.by_hand ? "by hand" : "locked" }}</template></td>
          <td>{{ names(l.room_ids) }}</td>
          <td class="num">{{ show("tube", l.length_m, units) }}</td>
          <td class="num">{{ show("share", l.length_m / l.limit_m, units) }}</td>
          <td class="num">{{ show("tube", l.leader_length_m, units) }}</td>
          <td class="num">{{ show("size", l.spacing_m, units) }}</td>
          <td>{{ store.library.value?.tubes.find((t) => t.id === l.tube_id)?.name }}</td>
          <td class="num">{{ show("heat", l.output_up_w, units) }}</td>
          <td class="num">{{ show("heat", l.output_down_w, units) }}</td>
        </tr>
        <tr v-for="f in fields" :key="f.id">
          <td>{{ f.tag }}</td>
          <td>{{ f.name }}</td>
          <td class="num">{{ show("tube", f.of.tube_m, units) }}</td>
          <td colspan="3"></td>
          <td>{{ store.library.value?.tubes.find((t) => t.id === f.tube)?.name }}</td>
          <td class="num">{{ show("heat", f.of.heat_w, units) }}</td>
          <td class="num">{{ show("heat", f.of.back_w, units) }}</td>
        </tr>
      </tbody>
    </table>
    <p v-if="!loops.length" class="none">
      {{ !design ? "Calculating…" : job?.manifolds.length ? "No loops could be drawn: the verdict says why." : "No loops yet. Hang a manifold at Rooms (M) and they draw themselves." }}
    </p>
    <ManifoldPlaces v-if="job?.rooms.length && !job.manifolds.length" />
  </div>
</template>

<style scoped>
.scroll { overflow: auto; flex: 1; min-height: 0; }
.none { color: var(--soft); padding: 6px 8px; margin: 0; }
tfoot td { border-top: 1px solid var(--line); }
</style>
