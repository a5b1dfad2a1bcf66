<script setup lang="ts">
/** The stations in the order of the work, each with its mark from the design: not started, needs attention, OK. */
import { computed, nextTick, ref, watch } from "vue";
import { RouterLink } from "vue-router";
import type { StationMark } from "../api/client";
import { store } from "../job/store";
import { keyOf, nameOf, stationsOf } from "../stations";

const { design, job, where, state } = store;
const WORDS: Record<StationMark["progress"], string> = { needs_attention: "needs attention", ok: "OK", not_started: "not started" };
const counted = (n: number, word: string) => (n ? `${n} ${word}${n === 1 ? "" : "s"}` : "");
const rail = computed(() =>
  stationsOf(job.value).map((station) => {
    const mark = design.value?.stations.find((m) => m.station === station.id) ?? { progress: "not_started" as const, errors: 0, warnings: 0 };
    const counts = [counted(mark.errors, "error"), counted(mark.warnings, "warning")].filter(Boolean).join(", ");
    const progress = station.progress?.() ?? mark.progress;
    return { ...station, ...mark, name: nameOf(station, job.value), key: keyOf(station, job.value), progress, word: WORDS[progress], counts };
  }),
);
/** On a phone the rail is wider than the screen: the station that is shown is in sight. */
const nav = ref<HTMLElement>();
watch(
  () => where.station,
  async () => {
    await nextTick();
    nav.value?.querySelector("[aria-current]")?.scrollIntoView({ block: "nearest", inline: "center" });
  },
  { immediate: true },
);
</script>

<template>
  <nav ref="nav" class="rail" aria-label="Stations">
    <RouterLink
      v-for="s in rail" :key="s.id" :to="`/jobs/${state.id}/${s.path}`"
      :class="{ on: where.station === s.id }" :aria-current="where.station === s.id ? 'page' : undefined" :title="s.key ? `${s.name} (${s.key})` : s.name">
      <ElIcon :size="18" aria-hidden="true"><component :is="s.icon" /></ElIcon>
      <span>{{ s.name }}</span>
      <span class="marks">
        <span v-if="s.errors" class="count error" aria-hidden="true">{{ s.errors }}</span>
        <span v-if="s.warnings" class="count" aria-hidden="true">{{ s.warnings }}</span>
        <span class="mark" :class="s.progress" :title="s.counts || s.word"><span class="visually-hidden">, {{ s.word }}{{ s.counts ? `: ${s.counts}` : "" }}</span></span>
      </span>
    </RouterLink>
  </nav>
</template>

<style scoped>
.rail { display: flex; flex-direction: column; padding: 8px 0; border-right: 1px solid var(--line); }
a { position: relative; display: flex; align-items: center; gap: 8px; padding: 9px 10px 9px 12px; color: var(--ink); text-decoration: none; border-left: 3px solid transparent; }
a .el-icon { color: var(--soft); }
a:hover { background: var(--faint); }
a.on { border-left-color: var(--ember); background: var(--sheet); font-weight: 650; }
a.on .el-icon { color: var(--ember); }
.marks { margin-left: auto; display: flex; gap: 5px; align-items: center; }
.count { font-size: 12px; font-weight: 600; font-variant-numeric: tabular-nums; color: var(--warn); }
.count.error { color: var(--ember); }
.mark { width: 11px; height: 11px; border-radius: 50%; border: 1.5px solid var(--soft); }
.mark.ok { background: var(--sound); border-color: var(--sound); }
.mark.needs_attention { border-radius: 0; rotate: 45deg; width: 10px; height: 10px; background: var(--ember); border-color: var(--ember); }
@media (max-width: 900px) {
  .rail { flex-direction: row; overflow-x: auto; border-right: 0; border-bottom: 1px solid var(--line); padding: 0; scrollbar-width: none; }
  a { border-left: 0; border-bottom: 3px solid transparent; white-space: nowrap; padding: 11px 10px; min-height: 44px; }
  a.on { border-bottom-color: var(--ember); }
}
</style>
