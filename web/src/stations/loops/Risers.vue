<script setup lang="ts">
/** Where a manifold's tubes come through the floor of another level. */
import { computed } from "vue";
import type { Manifold } from "../../api/client";
import JobField from "../../kit/JobField.vue";
import { walls, wallName } from "../../job/edit";
import { pathOf } from "../../job/paths";
import { store } from "../../job/store";
import { show } from "../../units";
import ChoiceField from "../../kit/ChoiceField.vue";

const props = defineProps<{ manifold: Manifold }>();
const { job, design, units } = store;
const found = computed(() => design.value?.manifolds.find((m) => m.id === props.manifold.id)?.risers ?? []);
const at = computed(() => pathOf(job.value, "manifolds", props.manifold.id));
const own = computed(() => props.manifold.risers ?? []);
/** Those that joist bays make without a sleeve. */
const free = computed(() => found.value.slice(own.value.length));
const room = (id: string) => job.value?.rooms.find((r) => r.id === id);
const here = computed(() => room(props.manifold.room_id)?.level_id);
const elsewhere = computed(() => (job.value?.rooms ?? []).filter((r) => r.level_id !== here.value));
function set(label: string, change: (m: Manifold) => void) {
  store.edit(label, (draft) => {
    const m = draft.manifolds.find((x) => x.id === props.manifold.id);
    if (m) change(m);
  });
}
/** In the middle of the room's longest wall, to be moved from there. */
function add(id: string) {
  const r = room(id);
  if (!r) return;
  const longest = walls(r).reduce((a, w) => (w.length > a.length ? w : a));
  set("place a riser", (m) => (m.risers = [...(m.risers ?? []), { room_id: id, edge: longest.edge, offset_m: Math.round(longest.length * 50) / 100 }]));
}
</script>

<template>
  <section v-if="elsewhere.length" aria-label="Risers">
    <h3>Other levels</h3>
    <div v-for="(r, i) in own" :key="i" class="riser">
      <p>Up through the floor of <b>{{ room(r.room_id)?.name }}</b>, {{ found[i]?.loops ?? 0 }} loops <ElButton link :aria-label="`Delete riser ${i + 1}`" @click="set('delete riser', (m) => (m.risers = m.risers?.filter((_, k) => k !== i)))">Delete</ElButton></p>
      <dl class="facts">
        <dt>Along</dt>
        <dd>
          <ChoiceField :model-value="r.edge" :options="(room(r.room_id) ? walls(room(r.room_id)!) : []).map((w) => ({ value: w.edge, text: wallName(w, job?.site.north_deg) }))" :label="`Wall of riser ${i + 1}`" @update:model-value="set('move riser', (m) => (m.risers![i]!.edge = $event))" />
        </dd>
        <dt>From the corner</dt><dd><JobField :path="`${at}.risers[${i}].offset_m`" :label="`Riser ${i + 1} from the corner`" /></dd>
        <dt>Tube each way</dt><dd><JobField :path="`${at}.risers[${i}].tube_m`" :label="`Tube to riser ${i + 1}`" :empty="show('tube', found[i]?.tube_m, units)" /></dd>
      </dl>
    </div>
    <p v-for="r in free" :key="r.room_id" class="quiet">Up between the joists of {{ room(r.room_id)?.name }}, {{ show("tube", r.tube_m, units) }} each way: {{ r.loops }} loops, no sleeve</p>
    <label>Bring its tubes through the floor of
      <ChoiceField :model-value="undefined" :options="elsewhere.map((r) => ({ value: r.id, text: r.name }))" label="Room of a new riser" empty="choose a room" @update:model-value="add" />
    </label>
  </section>
</template>

<style scoped>
h3 { font-size: 13px; margin: 8px 0 2px; }
.riser { border-top: 1px solid var(--line); font-size: 13px; }
p { margin: 4px 0; font-size: 13px; }
.quiet { color: var(--soft); }
label { display: block; font-size: 13px; padding: 4px 0; }
label > .choice { display: block; width: 100%; }
</style>
