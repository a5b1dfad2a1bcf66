<script setup lang="ts">
/** Where a manifold would hang well: a few places laid out in earnest, to be taken with a click. */
import { onBeforeUnmount, ref, watch } from "vue";
import { answer, api, type Place } from "../../api/client";
import { addManifold, wallName, walls } from "../../job/edit";
import { store } from "../../job/store";
import { pins } from "../../sheet/pins";
import { show } from "../../units";

const props = defineProps<{ manifoldId?: string }>();
const { job, units } = store;
const found = ref<Place[] | null>(null);
const busy = ref(false);
const problem = ref("");
watch([() => props.manifoldId, job], () => (found.value = null));
// the places are numbered on the plan as in the list
watch(found, () => {
  pins.value = (found.value ?? []).flatMap((p, i) => {
    const room = job.value?.rooms.find((r) => r.id === p.room_id);
    const wall = room && walls(room)[p.edge];
    return wall ? [{ text: String(i + 1), level_id: room.level_id, at: [wall.a[0] + wall.along[0] * p.offset_m, wall.a[1] + wall.along[1] * p.offset_m] as [number, number] }] : [];
  });
});
onBeforeUnmount(() => (pins.value = []));
function where(p: Place): string {
  const room = job.value?.rooms.find((r) => r.id === p.room_id);
  const wall = room && walls(room)[p.edge];
  return wall ? `${room.name}, ${wallName(wall, job.value?.site.north_deg)}` : "a room";
}
async function look() {
  const asked = job.value;
  if (!asked) return;
  busy.value = true;
  problem.value = "";
  try {
    const got = await answer(api.POST("/api/loops/places", { body: { job: store.seen(asked), manifold_id: props.manifoldId ?? null } }));
    // places belong to the job that was asked about
    if (asked === job.value) found.value = got;
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
    <ElButton size="small" :disabled="busy" @click="look">{{ busy ? "Looking…" : "Find good places" }}</ElButton>
    <p v-if="problem" class="wrong" role="alert">{{ problem }}</p>
    <ul v-if="found?.length">
      <li v-for="(p, i) in found" :key="`${p.room_id}-${p.edge}-${p.offset_m}`">
        <ElButton size="small" class="take" @click="take(p)">Take</ElButton>
        {{ i + 1 }}. <b>{{ where(p) }}</b> at {{ show("length", p.offset_m, units) }}<br />
        leaders {{ show("tube", p.leaders_m, units) }}, {{ p.loops }} loops, spread up to ±{{ show("share", p.spread, units) }}
        <span v-if="p.unreached" class="wrong"><br />{{ p.unreached }} rooms out of reach</span>
        <span v-else-if="p.problems" class="wrong"><br />{{ p.problems }} things do not fit</span>
      </li>
    </ul>
    <p v-else-if="found" class="wrong">No wall has a clear metre for it.</p>
    <p v-if="found?.length" class="quiet">Each was laid out. Near the heat source, out of the damp and within reach is yours to judge.</p>
  </div>
</template>

<style scoped>
.wrong { color: var(--ember); }
.quiet { color: var(--soft); font-size: 13px; }
ul { list-style: none; margin: 0; padding: 0; font-size: 13px; }
li { padding: 4px 0; border-top: 1px solid var(--line); overflow: hidden; }
.take { float: right; margin: 2px 0 2px 8px; }
</style>
