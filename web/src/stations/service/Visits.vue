<script setup lang="ts">
/** Visits written down before, the newest first. */
import { computed, onMounted, ref, watch } from "vue";
import { answer, api, type Entry } from "../../api/client";
import { store } from "../../job/store";
import { outbox, taken } from "../../offline/waiting";
import { when } from "../laying/words";

const { state, live } = store;
const entries = ref<Entry[]>([]);
async function load() {
  try {
    entries.value = await answer(api.GET("/api/jobs/{id}/records", { params: { path: { id: state.id } } }));
  } catch {
    // without a network what waits is shown, and nothing is made up
  }
}
onMounted(load);
watch([taken, () => live.state.recorded], load);
const visits = computed(() => {
  const waiting = outbox.state.waiting.filter((w) => w.job_id === state.id).map((w) => ({ record: w.record, who: "not sent yet" }));
  const corrected = new Set(entries.value.map((e) => e.record.corrects).filter(Boolean));
  return [...entries.value.filter((e) => !corrected.has(e.record.id)), ...waiting].flatMap(({ record, who }) => (record.fact.kind === "visited" ? [{ id: record.id, at: record.at, who, fact: record.fact }] : [])).reverse();
});
</script>

<template>
  <section v-if="visits.length" aria-label="Visits">
    <h2>Visits</h2>
    <ul>
      <li v-for="v in visits" :key="v.id">
<b>{{ v.fact.cause || "Not found yet" }}</b> <small>{{ when(v.at) }}{{ v.who ? `, ${v.who}` : "" }}</small>
        <p v-if="v.fact.complaint">{{ v.fact.complaint }}</p>
        <p v-if="v.fact.done">Done: {{ v.fact.done }}</p>
</li>
    </ul>
  </section>
</template>

<style scoped>
h2 { font-size: 17px; margin: 12px 0 4px; }
ul { list-style: none; padding: 0; margin: 0; }
li { border-top: 1px solid var(--faint); padding: 6px 0; }
small { color: var(--soft); }
p { margin: 2px 0; }
</style>
