<script setup lang="ts">
/** Where a manifold would hang well: a few places laid out in earnest, to be taken with a click. */
import { ref, watch } from "vue";
import { answer, api, type Place } from "../api/client";
import { addManifold } from "../job/edit";
import { store } from "../job/store";
import { show } from "../units";

const props = defineProps<{ manifoldId?: string }>();
const { job, units } = store;
const found = ref<Place[] | null>(null);
const busy = ref(false);
const problem = ref("");
watch(() => props.manifoldId, () => (found.value = null));
const room = (id: string) => job.value?.rooms.find((r) => r.id === id)?.name ?? "a room";
async function look() {
  busy.value = true;
  problem.value = "";
  try {
    found.value = await answer(api.POST("/api/loops/places", { body: { job: job.value as never, manifold_id: props.manifoldId ?? null } }));
  } catch (e) {
    problem.value = e instanceof Error ? e.message : String(e);
  } finally {
    busy.value = false;
  }
}
function take(p: Place) {
  let id = props.manifoldId ?? "";
  store.edit(props.manifoldId ? "move manifold" : "hang manifold", (draft) => {
    const m = draft.manifolds.find((x) => x.id === props.manifoldId);
    if (m) {
      Object.assign(m, { room_id: p.room_id, edge: p.edge, offset_m: p.offset_m });
      // its locked loops began at the old place
      draft.loops = draft.loops?.filter((l) => l.manifold_id !== m.id);
    } else {
      id = addManifold(draft, p.room_id, p.edge, p.offset_m) ?? "";
      const hung = draft.manifolds.find((x) => x.id === id);
      if (hung) hung.ports = Math.min(24, Math.max(hung.ports, p.loops));
    }
  });
  if (id) store.select({ kind: "manifold", id });
}
</script>

<template>
  <div class="places">
    <button class="do" :disabled="busy" @click="look">{{ busy ? "Looking…" : "Find good places" }}</button>
    <p v-if="problem" class="wrong" role="alert">{{ problem }}</p>
    <table v-if="found?.length" class="grid-table">
      <thead><tr><th>Place</th><th class="num">Leaders</th><th class="num">Loops</th><th></th></tr></thead>
      <tbody>
        <tr v-for="p in found" :key="`${p.room_id}-${p.edge}-${p.offset_m}`">
          <td>{{ room(p.room_id) }}, wall {{ p.edge + 1 }} at {{ show("length", p.offset_m, units) }}<span v-if="p.unreached" class="wrong"><br />{{ p.unreached }} rooms out of reach</span><span v-else-if="p.problems" class="wrong"><br />{{ p.problems }} things do not fit</span></td>
          <td class="num">{{ show("tube", p.leaders_m, units) }}</td>
          <td class="num" :title="`spread ±${show('share', p.spread, units)}, longest ${show('share', p.of_limit, units)} of its limit`">{{ p.loops }}</td>
          <td><button class="plain link" @click="take(p)">Take</button></td>
        </tr>
      </tbody>
    </table>
    <p v-else-if="found" class="wrong">No wall has a clear metre for it.</p>
    <p v-if="found?.length" class="quiet">Each was laid out. Near the heat source, out of the damp and within reach is yours to judge.</p>
  </div>
</template>

<style scoped>
.do { border: 1px solid var(--line); background: var(--paper); border-radius: 3px; padding: 2px 10px; cursor: pointer; margin: 4px 0; }
.wrong { color: var(--ember); }
.quiet { color: var(--soft); font-size: 13px; }
.grid-table { width: 100%; font-size: 13px; }
</style>
