<script setup lang="ts">
/** A chosen loop: its figures, and what can be done with it by hand. */
import { computed, ref, watch } from "vue";
import { useRouter } from "vue-router";
import type { LoopDesign } from "../../api/client";
import * as loops from "../../job/loops";
import { store } from "../../job/store";
import { dialect, show } from "../../units";
import { release, reroute } from "./release";
import ChoiceField from "../../kit/ChoiceField.vue";

const { job, design, state, where, units } = store;
const router = useRouter();
const loop = computed(() => design.value?.loops.find((l) => l.id === where.selection?.id));
const s = (q: Parameters<typeof show>[0], v: number | null | undefined) => show(q, v, units.value);
const names = computed(() => (loop.value?.room_ids ?? []).map((id) => job.value?.rooms.find((r) => r.id === id)?.name ?? "a room").join(", "));
const mates = computed(() => (design.value?.loops ?? []).filter((l) => l.manifold_id === loop.value?.manifold_id));
const others = computed(() => mates.value.filter((l) => l.id !== loop.value?.id));
const manifold = computed(() => design.value?.manifolds.find((m) => m.id === loop.value?.manifold_id));
const ports = computed(() => Array.from({ length: Math.max(manifold.value?.ports ?? 1, loop.value?.port ?? 1) }, (_, i) => ({ port: i + 1, tag: mates.value.find((l) => l.port === i + 1)?.tag })));

const portText = (p: { port: number; tag?: string }) => (!p.tag ? `${p.port}, free` : p.port === loop.value?.port ? String(p.port) : `${p.port}, swap with ${p.tag}`);

/** After locking, the loop goes on under its new id. */
function withLocked(label: string, also: LoopDesign[], change: (draft: NonNullable<typeof job.value>, id: string) => void) {
  let now = loop.value!.id;
  store.edit(label, (draft) => {
    now = loops.lock(draft, [loop.value!, ...also]).get(loop.value!.id)!;
    change(draft, now);
  });
  store.select({ kind: "loop", id: now });
}
const lock = () => withLocked("lock loop", [], () => {});
const reverse = () => withLocked("reverse loop", [], (draft, id) => loops.reverse(draft, id));
function toPort(port: number) {
  const there = mates.value.find((l) => l.port === port);
  withLocked("change port", there ? [there] : [], (draft, id) => loops.toPort(draft, id, port));
}
function lockOthers() {
  const ids = others.value;
  store.edit("lock loops", (draft) => void loops.lock(draft, ids));
}
async function give(which: LoopDesign[], label: string, how = release) {
  const done = await how(which.map((l) => l.id), label);
  if (done && which.some((l) => l.id === loop.value!.id)) reselect = loop.value!.tag;
}
/** An unlocked loop has another id once it is laid anew: the one with its tag is chosen. */
let reselect = "";
watch(
  () => design.value,
  (d) => {
    const again = reselect && d?.loops.find((l) => l.tag === reselect);
    reselect = "";
    if (again) store.select({ kind: "loop", id: again.id });
  },
);
const rooms = computed(() => (job.value?.rooms ?? []).filter((r) => r.floor));
const room = ref(loop.value?.room_ids[0]);
watch(loop, (l) => l && (room.value = l.room_ids[0]));
function toRoom() {
  const to = room.value;
  if (to) withLocked("give loop another room", [], (draft, id) => {
    const l = loops.keptOf(draft, id);
    if (l) {
      l.room_id = to;
      delete l.also_room_ids;
    }
  });
}
const print = () => router.push({ path: `/jobs/${state.id}/papers`, query: { sheet: "loop", loop: loop.value!.tag } });
</script>

<template>
  <template v-if="loop">
  <h2>Loop {{ loop.tag }}, {{ names }}</h2>
  <p v-if="loop.locked" class="state">{{ loop.by_hand ? "Shaped by hand: it lies where you put it." : "Locked: it stays where it lies." }}</p>
  <dl class="facts">
    <dt>Length</dt><dd>{{ s("tube", loop.length_m) }} of {{ s("tube", loop.limit_m) }} ({{ s("share", loop.length_m / loop.limit_m) }})</dd>
    <dt>of it leaders</dt><dd>{{ s("tube", loop.leader_length_m) }}</dd>
    <template v-if="loop.riser_m"><dt>Through the floor</dt><dd>{{ s("tube", loop.riser_m / 2) }} each way</dd></template>
    <dt>Bends</dt><dd>{{ Math.max(0, loop.turns.length - 1) }}</dd>
    <dt>Water</dt><dd>{{ s("temperature", loop.supply_c) }} → {{ s("temperature", loop.return_c) }}</dd>
    <dt>Flow</dt><dd>{{ s("flow", loop.flow_l_min) }}</dd>
    <dt>{{ dialect("Pressure drop", units) }}</dt><dd>{{ s("head", loop.head_loss_pa) }}</dd>
    <template v-if="where.station === 'loops'">
      <dt>Port</dt>
      <dd><ChoiceField :model-value="loop.port" :options="ports.map((p) => ({ value: p.port, text: portText(p) }))" label="Port of the loop" @update:model-value="toPort($event)" /></dd>
      <template v-if="loop.locked">
        <dt>Heats</dt>
        <dd><ChoiceField v-model="room" :options="rooms.map((r) => ({ value: r.id, text: r.name }))" label="Room that the loop heats" @update:model-value="toRoom" /></dd>
      </template>
    </template>
  </dl>
  <div v-if="where.station === 'loops'" class="act">
    <ElButton v-if="!loop.locked" size="small" @click="lock">Lock</ElButton>
    <ElButton v-else size="small" @click="give([loop], 'unlock loop')">{{ loop.by_hand ? "Re-route" : "Unlock" }}</ElButton>
    <ElButton size="small" title="The other end becomes the hot one" @click="reverse">Reverse</ElButton>
    <ElButton v-if="others.some((l) => !l.locked)" size="small" @click="lockOthers">Lock the others of {{ manifold?.letter }}</ElButton>
    <ElButton v-if="others.some((l) => l.locked)" size="small" @click="give(others.filter((l) => l.locked), 're-route the others', reroute)">Re-route the others of {{ manifold?.letter }}</ElButton>
    <ElButton size="small" @click="print">Print this loop</ElButton>
  </div>
  </template>
</template>

<style scoped>
.state { margin: 4px 0 0; color: var(--ember); font-weight: 600; }
.act { display: flex; gap: 6px; flex-wrap: wrap; margin: 4px 0 8px; }
</style>
