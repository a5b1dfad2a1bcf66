<script setup lang="ts">
/** The stations in the order of the work, each with its mark: not started, needs attention, OK. */
import { computed } from "vue";
import { RouterLink } from "vue-router";
import type { Station } from "../api/client";
import { store } from "../job/store";

const stations: { station: Station; name: string }[] = [
  { station: "site", name: "Site" },
  { station: "rooms", name: "Rooms" },
  { station: "heat_loss", name: "Heat loss" },
  { station: "floor", name: "Floor" },
  { station: "loops", name: "Loops" },
  { station: "water", name: "Water" },
  { station: "papers", name: "Papers" },
];
const { job, design, state } = store;

const marks = computed(() =>
  Object.fromEntries(
    stations.map(({ station }) => {
      const rooms = job.value?.rooms.length ?? 0;
      const loops = design.value?.loops.length ?? 0;
      const begun =
        station === "site" ? Boolean(job.value?.site.place) : station === "loops" || station === "water" || station === "papers" ? loops > 0 : rooms > 0;
      const findings = (design.value?.findings ?? []).filter((f) => f.station === station && f.severity !== "note");
      const attention = station === "papers" ? (design.value?.findings ?? []).some((f) => f.severity === "error") && loops > 0 : findings.length > 0;
      return [station, attention ? "attention" : begun ? "sound" : "empty"];
    }),
  ),
);
/** "2 errors, 1 warning" of a station; empty where all is well. */
function counted(station: Station): { errors: number; warnings: number; words: string } {
  const of = (severity: string) => (design.value?.findings ?? []).filter((f) => f.station === station && f.severity === severity).length;
  const [errors, warnings] = [of("error"), of("warning")];
  const words = [errors && `${errors} ${errors === 1 ? "error" : "errors"}`, warnings && `${warnings} ${warnings === 1 ? "warning" : "warnings"}`];
  return { errors, warnings, words: words.filter(Boolean).join(", ") };
}
const counts = computed(() => Object.fromEntries(stations.map(({ station }) => [station, counted(station)])));
const words: Record<string, string> = { attention: "needs attention", sound: "OK", empty: "not started" };
</script>

<template>
  <nav class="rail" aria-label="Stations">
    <RouterLink
      v-for="(s, i) in stations" :key="s.station" :to="`/jobs/${state.id}/${s.station.replace('_', '-')}`"
      :class="{ on: state.station === s.station }" :aria-current="state.station === s.station ? 'page' : undefined">
      <span class="no" aria-hidden="true">{{ i + 1 }}</span>
      <span>{{ s.name }}</span>
      <span class="marks">
        <span v-if="counts[s.station]!.errors" class="count error" aria-hidden="true">{{ counts[s.station]!.errors }}</span>
        <span v-if="counts[s.station]!.warnings" class="count" aria-hidden="true">{{ counts[s.station]!.warnings }}</span>
        <span class="mark" :class="marks[s.station]" :title="counts[s.station]!.words || words[marks[s.station]!]"><span class="visually-hidden">, {{ words[marks[s.station]!] }}{{ counts[s.station]!.words ? `: ${counts[s.station]!.words}` : "" }}</span></span>
      </span>
    </RouterLink>
  </nav>
</template>

<style scoped>
.rail { display: flex; flex-direction: column; padding: 8px 0; border-right: 1px solid var(--line); }
a { position: relative; display: flex; align-items: center; gap: 8px; padding: 9px 10px 9px 12px; color: var(--ink); text-decoration: none; border-left: 3px solid transparent; }
a:hover { background: var(--faint); }
a.on { border-left-color: var(--ember); background: var(--sheet); font-weight: 650; }
.no { color: var(--soft); width: 10px; font-size: 12px; }
.marks { margin-left: auto; display: flex; gap: 5px; align-items: center; }
.count { font-size: 12px; font-weight: 600; font-variant-numeric: tabular-nums; color: var(--warn); }
.count.error { color: var(--ember); }
.mark { width: 11px; height: 11px; border-radius: 50%; border: 1.5px solid var(--soft); }
.mark.sound { background: var(--sound); border-color: var(--sound); }
.mark.attention { border-radius: 0; rotate: 45deg; width: 10px; height: 10px; background: var(--ember); border-color: var(--ember); }
@media (max-width: 700px) {
  .rail { flex-direction: row; overflow-x: auto; border-right: 0; border-bottom: 1px solid var(--line); padding: 0; }
  a { border-left: 0; border-bottom: 3px solid transparent; white-space: nowrap; padding: 12px 10px; }
  a.on { border-bottom-color: var(--ember); }
  .no { display: none; }
}
</style>
