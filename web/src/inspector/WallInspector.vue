<script setup lang="ts">
/** A wall: its length, what is behind it, the slope over it, a cut through the room. */
import { computed, ref } from "vue";
import { answer, api, type Beyond, type Job } from "../api/client";
import * as edit from "../job/edit";
import { store } from "../job/store";
import BeyondField from "../kit/BeyondField.vue";
import CheckField from "../kit/CheckField.vue";
import ConstructionField from "../kit/ConstructionField.vue";
import QuantityField from "../kit/QuantityField.vue";
import { PARTITION_M } from "../sheet/snap";
import { roomName, useRoom } from "./chosen";

const { job, design, state, where } = store;
const { room, change } = useRoom();
const wall = computed(() => (room.value ? edit.walls(room.value)[where.selection?.edge ?? -1] : undefined));
const word = computed(() => room.value?.walls.find((w) => w.edge === wall.value?.edge));
const slope = computed(() => room.value?.slopes?.find((s) => s.edge === wall.value?.edge));
const seen = computed(() => {
  const behind = design.value?.walls.filter((w) => w.room_id === room.value?.id && w.edge === wall.value?.edge) ?? [];
  return [...new Set(behind.map((w) => (w.beyond === "room" ? roomName(w.beyond_room_id) : w.beyond.replace("_", " "))))].join(", ");
});
const start = computed(() => (wall.value ? edit.startName(wall.value, job.value?.site.north_deg) : ""));
const say = (what: Parameters<typeof edit.setWall>[2]) => change("say of the wall", (r) => edit.setWall(r, wall.value!.edge, what));
const setSlope = (s: { knee_m: number; pitch_deg: number } | undefined) => change("slope the ceiling", (r) => edit.setSlope(r, wall.value!.edge, s));
const setLength = (m: number) => change("set wall length", (r, j) => edit.setWallLength(j, r.id, wall.value!.edge, m));

/** A cut square to this wall. */
const cutAt = ref<number>();
async function split() {
  const ends = room.value && wall.value && cutAt.value !== undefined ? edit.opposite(room.value, wall.value.edge, cutAt.value) : null;
  if (!ends) return void (state.refusal = "A cut from there does not meet the room's other side.");
  const room_id = room.value!.id;
  const new_id = edit.newId(job.value!, "room");
  if (await store.editThere("split room", (before) => answer(api.POST("/api/plan/split", { body: { job: before, room_id, from: ends[0], to: ends[1], wall_m: PARTITION_M, new_id } })), (after) => after as Job))
    store.select({ kind: "room", id: new_id });
}
</script>

<template>
  <template v-if="room && wall">
    <h2>{{ room.name }}, {{ edit.wallName(wall, job?.site.north_deg) }}</h2>
    <dl class="facts">
      <dt>Length</dt><dd><QuantityField :model-value="wall.length" quantity="length" label="Wall length" :min="0.05" :max="200" hint="Moves the wall after it" @update:model-value="setLength($event!)" /></dd>
      <template v-if="!job?.outdoors">
      <dt>Other side</dt><dd><BeyondField :model-value="(word?.beyond as Beyond | undefined) ?? undefined" label="Other side of the wall" :without="['crawl_space']" :empty="`as drawn: ${seen}`" @update:model-value="say({ beyond: $event })" /></dd>
      <dt>Construction</dt><dd><ConstructionField :model-value="word?.construction_id" :positions="['wall', 'partition']" label="Construction of this wall" empty="as the site" @update:model-value="say({ construction_id: $event })" /></dd>
      <dt>U of this wall</dt><dd><QuantityField of="Wall.u" :model-value="word?.u" label="U of this wall" :empty="word?.construction_id ? 'by its layers' : 'as the site'" @update:model-value="say({ u: $event })" /></dd>
      <dt>Ceiling slopes up from it</dt><dd><CheckField :model-value="Boolean(slope)" label="Ceiling slopes up from this wall" @update:model-value="setSlope($event ? { knee_m: Math.min(1, room!.height_m), pitch_deg: 40 } : undefined)" /></dd>
      <template v-if="slope">
        <dt>Height at the wall</dt><dd><QuantityField of="Slope.knee_m" :model-value="slope.knee_m" label="Height at the low wall" @update:model-value="setSlope({ knee_m: $event!, pitch_deg: slope!.pitch_deg })" /></dd>
        <dt>Pitch</dt><dd><QuantityField of="Slope.pitch_deg" :model-value="slope.pitch_deg" label="Pitch of the roof" @update:model-value="setSlope({ knee_m: slope!.knee_m, pitch_deg: $event! })" /></dd>
      </template>
      </template>
    </dl>
    <p class="act">
      Split the room <QuantityField v-model="cutAt" quantity="length" label="Distance of the cut from the corner" :min="0.05" :max="wall.length" :empty="`from the ${start} corner`" wide />
      <ElButton size="small" :disabled="cutAt === undefined" @click="split">Split</ElButton>
    </p>
  </template>
</template>
