<script setup lang="ts">
/** The house that is heated before any snow is melted: typed, or taken from its own job. */
import { computed, ref } from "vue";
import { answer, api, Refused, windowOf, type Job } from "../../api/client";
import { store } from "../../job/store";
import CheckField from "../../kit/CheckField.vue";
import ChoiceField from "../../kit/ChoiceField.vue";
import JobField from "../../kit/JobField.vue";
import { show } from "../../units";

const { job, design, units, state } = store;
const house = computed(() => job.value?.outdoors?.house);
const leaves = computed(() => design.value?.outdoors?.house);
const has = (on: boolean) =>
  store.edit(on ? "heat a house first" : "no house first", (j) => {
    if (on) j.outdoors!.house = { source_w: 24000, w_per_k: 200, no_heat_above_c: 15 };
    else delete j.outdoors!.house;
  });
const jobs = ref<{ value: string; text: string }[]>([]);
const trouble = ref("");
async function list() {
  trouble.value = "";
  try {
    jobs.value = (await answer(api.GET("/api/jobs"))).filter((j) => j.id !== state.id).map((j) => ({ value: j.id, text: j.name }));
    if (!jobs.value.length) trouble.value = "There is no other job.";
  } catch (e) {
    trouble.value = e instanceof Refused ? e.problem.detail : "The server does not answer.";
  }
}
/** What its design says of load and source goes into this job: it is not followed when the other job changes. */
async function take(id: string) {
  trouble.value = "";
  const here = state.id;
  try {
    const other = (await answer(api.GET("/api/jobs/{id}", { params: { path: { id } } }))).job as Job;
    const found = await answer(api.POST("/api/design", { body: other as never, headers: { "X-Fuoco-Window": windowOf("house") } }));
    // meanwhile another job may have been opened, or the house taken out
    if (state.id !== here || !house.value) return;
    const source_w = other.plant?.source.most_w ?? other.old_source?.output_w;
    const { w_per_k, zero_load_c } = found.building;
    if (!source_w || zero_load_c === null || zero_load_c === undefined) trouble.value = source_w ? "That job has no heat loss." : "That job has no heat source yet: choose one at its Plant.";
    else store.edit("take the house", (j) => (j.outdoors!.house = { source_w, w_per_k, no_heat_above_c: Math.min(25, Math.max(0, zero_load_c)) }));
  } catch (e) {
    trouble.value = e instanceof Refused ? e.problem.detail : "The server does not answer.";
  }
}
</script>

<template>
  <p class="on"><CheckField :model-value="Boolean(house)" label="A house is heated first" @update:model-value="has">A house is heated first by the same source</CheckField></p>
  <template v-if="house">
    <dl>
      <dt>Its source gives</dt><dd><JobField path="outdoors.house.source_w" label="Output of the source" /></dd>
      <dt>The house loses</dt><dd><JobField path="outdoors.house.w_per_k" label="Loss of the house" /></dd>
      <dt>and wants no heat above</dt><dd><JobField path="outdoors.house.no_heat_above_c" label="The house wants no heat above" /></dd>
    </dl>
    <p class="take">
      <ElButton v-if="!jobs.length" size="small" @click="list">Take from a job…</ElButton>
      <label v-else>Take from <ChoiceField :model-value="undefined" :options="jobs" label="Job of the house" empty="choose a job" @update:model-value="$event && take($event)" /></label>
    </p>
    <p v-if="trouble" role="alert">{{ trouble }}</p>
    <p v-if="leaves">In the storm's air it takes {{ show("heat", leaves.house_w, units) }} and leaves {{ show("heat", leaves.left_w, units) }}: <b>{{ show("share", Math.min(1, leaves.share), units) }}</b> of what melting takes.</p>
  </template>
</template>

<style scoped>
dl { display: grid; grid-template-columns: minmax(120px, 1fr) minmax(0, 1fr); gap: 4px 10px; align-items: center; margin: 0; }
dt { color: var(--soft); }
dd { margin: 0; }
.on, .take { margin: 6px 0; }
</style>
