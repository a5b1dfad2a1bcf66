<script setup lang="ts">
/** A row for every loop and for the circuits of every field; what stands in them is the station's. */
import { computed } from "vue";
import { fieldRows } from "../../job/fields";
import { store } from "../../job/store";

const { job, design, where } = store;
const loops = computed(() => design.value?.loops ?? []);
const fields = computed(() => fieldRows(job.value, design.value));
const names = (ids: string[]) => ids.map((id) => job.value?.rooms.find((r) => r.id === id)?.name).join(", ");
</script>

<template>
  <div class="scroll" tabindex="0" role="region" aria-label="Table of loops">
    <table class="grid-table">
      <thead><tr><th>Loop</th><th>Rooms</th><slot name="head" /></tr></thead>
      <tbody>
        <tr v-for="l in loops" :key="l.id" :class="{ chosen: where.selection?.id === l.id }">
          <td><ElButton link type="primary" @click="store.select({ kind: 'loop', id: l.id })">{{ l.tag }}</ElButton><slot name="tag" :loop="l" /></td>
          <td>{{ names(l.room_ids) }}</td>
          <slot name="loop" :loop="l" />
        </tr>
        <tr v-for="f in fields" :key="f.id"><td>{{ f.tag }}</td><td>{{ f.name }}</td><slot name="field" :field="f" /></tr>
      </tbody>
      <tfoot v-if="$slots.foot"><slot name="foot" /></tfoot>
    </table>
    <p v-if="!loops.length" class="none">
      {{ !design ? "Calculating…" : job?.manifolds.length ? "No loops could be drawn: the verdict says why." : "No loops yet. Hang a manifold at Rooms (M) and they draw themselves." }}
    </p>
    <slot />
  </div>
</template>

<style scoped>
.scroll { overflow: auto; flex: 1; min-height: 0; }
.scroll :deep(.none) { color: var(--soft); padding: 6px 8px; margin: 0; }
tfoot :deep(td) { border-top: 1px solid var(--line); }
</style>
