<script setup lang="ts">
/** What is wanted of a room's loops: how many, from which manifold, in which pattern, parted where. */
import { computed } from "vue";
import type { Floor, Room } from "../../api/client";
import { PATTERNS } from "../../words";
import JobField from "../../kit/JobField.vue";
import { roomOf } from "../../job/edit";
import { pathOf } from "../../job/paths";
import { store } from "../../job/store";
import { show } from "../../units";
import LatticeFields from "./LatticeFields.vue";
import ZoneField from "./ZoneField.vue";
import ChoiceField from "../../kit/ChoiceField.vue";


const { job, design, where, units } = store;
const of = computed(() => job.value?.rooms.find((r) => r.id === where.selection?.id));
/** With its floor: without one there are no loops to want. */
const room = computed(() => (of.value?.floor ? (of.value as Room & { floor: Floor }) : undefined));
const at = computed(() => pathOf(job.value, "rooms", room.value?.id));
const found = computed(() => design.value?.rooms.find((r) => r.id === room.value?.id));
const own = computed(() => (design.value?.loops ?? []).filter((l) => l.room_ids.includes(room.value?.id ?? "")));
const locked = computed(() => own.value.filter((l) => l.locked).length);
function set(label: string, change: (floor: Floor) => void) {
  store.edit(label, (draft) => {
    const floor = roomOf(draft, room.value!.id)?.floor;
    if (floor) change(floor);
  });
}
</script>

<template>
  <template v-if="of">
  <h2>{{ of.name }}</h2>
  <p v-if="!room" class="hint">Its floor is not heated: heat it at Rooms.</p>
  </template>
  <template v-if="room">
  <dl class="facts">
    <dt>Loops</dt><dd>{{ own.map((l) => l.tag).join(", ") || "none" }}<template v-if="locked"> ({{ locked }} locked)</template></dd>
    <dt>Loops wanted</dt><dd><JobField :path="`${at}.floor.loops`" label="Loops wanted in this room" hint="At least so many; more where the longest loop asks for them" empty="as few as will do" wide /></dd>
    <dt>Served by</dt>
    <dd><ChoiceField :model-value="room.floor.manifold_id" :options="(job?.manifolds ?? []).map((m) => ({ value: m.id, text: `manifold ${m.letter}` }))" label="Manifold of this room" empty="the nearest manifold" @update:model-value="set('choose manifold', (f) => (f.manifold_id = $event))" /></dd>
    <dt>Thermostat zone</dt><dd><ZoneField :room="room" /></dd>
    <dt>Pattern</dt>
    <dd><ChoiceField :model-value="room.floor.pattern" :options="PATTERNS" label="Pattern of this room" @update:model-value="set('choose pattern', (f) => (f.pattern = $event as Floor['pattern']))" /></dd>
    <LatticeFields :room="room" />
    <dt>Within reach of tube</dt><dd>{{ show("share", found?.coverage, units) }}</dd>
    <template v-if="found?.coldest"><dt>Farthest spot</dt><dd>{{ show("length", found.coldest.distance_m, units) }} from tube</dd></template>
    <template v-if="found?.warmest"><dt>Warmest spot</dt><dd>{{ show("temperature", found.warmest.surface_c, units) }}</dd></template>
  </dl>
  <ul v-if="room.floor.splits?.length" class="splits">
    <li v-for="(p, i) in room.floor.splits" :key="i">Split {{ i + 1 }}, {{ show("length", Math.hypot(p[1]![0]! - p[0]![0]!, p[1]![1]! - p[0]![1]!), units) }} <ElButton link type="primary" :aria-label="`Delete split ${i + 1}`" @click="set('delete split', (f) => (f.splits = f.splits?.filter((_, k) => k !== i)))">Delete</ElButton></li>
  </ul>
  </template>
</template>

<style scoped>
.splits { list-style: none; margin: 0 0 6px; padding: 0; }
</style>
