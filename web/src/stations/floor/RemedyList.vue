<script setup lang="ts">
/** What would help a room, each tried by the core; what can be taken has a button, and is one step of undo. */
import { ref } from "vue";
import { answer, api, type Job, type Remedy } from "../../api/client";
import { takeOwnCircuit } from "../../job/circuits";
import { plain } from "../../job/edit";
import { REMEDIES } from "../../words";
import * as floors from "../../job/floors";
import { store } from "../../job/store";
import { show, whole } from "../../units";
import { coveringName } from "../../products/products";

const props = defineProps<{ roomId: string; remedies: Remedy[] }>();
const s = (q: Parameters<typeof show>[0], v: number | null | undefined) => show(q, v, store.units.value);
function words(r: Remedy): string {
  const out = [REMEDIES[r.kind] as string];
  if (r.floor && r.kind !== "covering") out.push(s("size", r.floor.spacing_core_m));
  if (r.floor && r.kind !== "spacing") out.push(coveringName(r.floor.covering_id));
  if (r.field) out.push(s("area", r.field.width_m * r.field.height_m));
  if (r.heat_w) out.push(s("heat", r.heat_w));
  return out.length > 1 ? `${out[0]}: ${out.slice(1).join(", ")}` : out[0]!;
}
/** What comes of it: of a circuit of its own for the others too. */
const others = (r: Remedy) => (r.kind === "own_circuit" && store.design.value?.conflict ? `, ${s("temperature", store.design.value.conflict.others_c)} for the others` : "");
const outcome = (r: Remedy) => outcomeOfRoom(r) + others(r);
const outcomeOfRoom = (r: Remedy) => (r.enough ? (r.supply_c ? `then OK, at ${s("temperature", r.supply_c)} supply` : "then OK") : `still short by ${s("heat", r.short_w)}`);
/** A second manifold is laid out in several places first: the server looks for the best. */
const looking = ref(false);
const wrong = ref("");
async function take(r: Remedy) {
  if (r.kind !== "own_circuit") return floors.takeRemedy(props.roomId, r);
  looking.value = true;
  wrong.value = "";
  const asked = (before: Job) => answer(api.POST("/api/loops/own-circuit", { body: { job: before } }));
  const done = await store.editThere("give a circuit of its own", asked, (own) => {
    const job = plain(store.job.value!);
    takeOwnCircuit(job, own);
    return job;
  });
  looking.value = false;
  if (!done) wrong.value = store.state.refusal;
}
</script>

<template>
  <ul class="remedies" aria-label="What would help">
    <li v-for="(r, i) in remedies" :key="i">
      <span>{{ whole(`${words(r)}; ${outcome(r)}.`) }}</span>
      <el-button v-if="r.floor || r.field || r.emitter || r.kind === 'own_circuit'" size="small" :disabled="looking" :aria-label="`Take it: ${words(r)}`" @click="take(r)">Take it</el-button>
    </li>
    <li v-if="looking" role="status">Laying a second manifold out…</li>
    <li v-if="wrong" class="wrong" role="alert">{{ wrong }}</li>
  </ul>
</template>

<style scoped>
.remedies { list-style: none; margin: 2px 0 6px; padding: 0 0 0 10px; font-size: 13px; }
.remedies li { display: flex; gap: 8px; align-items: center; justify-content: space-between; padding: 2px 0; }
.remedies .wrong { color: var(--ember); font-weight: 600; }
</style>
