<script setup lang="ts">
/** What is chosen, with its figures to type. */
import { Close, Delete } from "@element-plus/icons-vue";
import { computed, watch } from "vue";
import { store } from "../job/store";
import type { StationPart } from "../stations/station";
import { INSPECTORS } from ".";

const props = defineProps<{ station: StationPart }>();
const { job, design, where, state, deletable } = store;
const key = computed(() => `${where.selection?.kind}-${where.selection?.id}-${where.selection?.edge ?? ""}`);
/** What it is called; empty when it is there no longer. */
const called = computed(() => {
  const s = where.selection;
  const rooms = job.value?.rooms ?? [];
  if (!s) return "";
  if (s.kind === "room" || s.kind === "wall") return rooms.find((r) => r.id === s.id)?.name ?? "";
  if (s.kind === "opening") return rooms.some((r) => r.openings.some((o) => o.id === s.id)) ? "opening" : "";
  if (s.kind === "keep_out") return rooms.some((r) => r.keep_outs.some((k) => k.id === s.id)) ? "keep-out" : "";
  if (s.kind === "mark") return job.value?.marks.some((m) => m.id === s.id) ? "mark" : "";
  if (s.kind === "manifold") return (job.value?.manifolds ?? []).filter((m) => m.id === s.id).map((m) => `manifold ${m.letter}`)[0] ?? "";
  return design.value?.loops.some((l) => l.id === s.id) ? "loop" : "";
});
const part = computed(() => (where.selection && called.value ? (props.station.inspectors?.[where.selection.kind] ?? INSPECTORS[where.selection.kind]) : undefined));
watch(key, () => (state.refusal = ""));
</script>

<template>
  <section v-if="part" class="inspector" aria-label="Chosen">
    <!-- by key: what was typed for one thing does not stay in the fields of the next -->
    <component :is="part" :key="key" />
    <p v-if="state.refusal" class="refusal" role="alert">{{ state.refusal }}</p>
    <div class="actions">
      <ElButton v-if="deletable" size="small" :icon="Delete" @click="store.removeSelected()">Delete {{ called }}</ElButton>
      <ElButton size="small" :icon="Close" text @click="store.select(null)">Deselect</ElButton>
    </div>
  </section>
</template>

<style scoped>
.inspector { padding: 10px 12px; border-bottom: 1px solid var(--line); background: var(--sheet); }
.refusal { color: var(--ember); font-weight: 600; }
.actions { display: flex; gap: 8px; flex-wrap: wrap; }
.actions .el-button { margin: 0; max-width: 100%; overflow: hidden; }
</style>
<style>
.inspector .act { display: flex; gap: 6px; align-items: center; flex-wrap: wrap; margin: 6px 0; }
.inspector .act .choice { width: 130px; }
.inspector .hint { color: var(--soft); font-size: 13px; }
</style>
