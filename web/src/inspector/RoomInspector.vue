<script setup lang="ts">
/** A room: its use, its temperatures, what is above and below. */
import { computed, ref, watch } from "vue";
import { answer, api, type Job } from "../api/client";
import { likelyFloor } from "../job/edit";
import { meltOf, setMelt, setMeltUse } from "../job/melt";
import { store } from "../job/store";
import { setUse, usualFloor } from "../job/usual";
import BeyondField from "../kit/BeyondField.vue";
import CheckField from "../kit/CheckField.vue";
import ChoiceField from "../kit/ChoiceField.vue";
import ConstructionField from "../kit/ConstructionField.vue";
import JobField from "../kit/JobField.vue";
import QuantityField from "../kit/QuantityField.vue";
import TextField from "../kit/TextField.vue";
import ZoneField from "../stations/loops/ZoneField.vue";
import { show } from "../units";
import { MELT_USES, USES } from "../words";
import { roomName, useRoom } from "./chosen";

const { job, design, units } = store;
const { room, at, set, change } = useRoom();
const found = computed(() => design.value?.rooms.find((r) => r.id === room.value?.id));
const heatFloor = (on: boolean) => change("heat the floor", (r, j) => (r.floor = on ? likelyFloor(j, usualFloor()) : null));
const melt = computed(() => meltOf(room.value ?? {}));
const setOf = (what: string, values: Parameters<typeof setMelt>[2]) => store.edit(what, (j) => setMelt(j, room.value!.id, values));
const neighbours = computed(() => {
  const ids = (design.value?.walls ?? []).filter((w) => w.room_id === room.value?.id && w.beyond_room_id).map((w) => w.beyond_room_id!);
  return [...new Set(ids)].filter((id) => job.value?.rooms.some((r) => r.id === id && r.level_id === room.value?.level_id));
});
const partner = ref("");
watch(neighbours, (list) => !list.includes(partner.value) && (partner.value = list[0] ?? ""), { immediate: true });
async function merge() {
  const ids = { first_id: room.value!.id, second_id: partner.value };
  if (await store.editThere("merge rooms", (before) => answer(api.POST("/api/plan/merge", { body: { job: before, ...ids } })), (after) => after as Job))
    store.select({ kind: "room", id: ids.first_id });
}
</script>

<template>
  <template v-if="room">
    <h2 class="title"><TextField :model-value="room.name" label="Room name" required @update:model-value="set({ name: $event })" /></h2>
    <dl v-if="job?.outdoors" class="facts">
      <dt>Use</dt><dd><ChoiceField :model-value="melt.use" :options="MELT_USES" label="Use of the area" @update:model-value="store.edit('change use', (j) => setMeltUse(j, room!.id, $event as never))" /></dd>
      <dt>Free of snow</dt><dd><QuantityField :model-value="melt.free_area_ratio" of="Melt.free_area_ratio" label="Part free of snow" @update:model-value="setOf('change the class', { free_area_ratio: $event! })" /></dd>
      <dt>May lie, as water</dt><dd><QuantityField :model-value="melt.may_lie_mm" of="Melt.may_lie_mm" label="Snow that may lie" @update:model-value="setOf('change what may lie', { may_lie_mm: $event! })" /></dd>
      <dt>Fall</dt><dd><QuantityField :model-value="melt.slope" of="Melt.slope" label="Fall of the area" @update:model-value="setOf('change the fall', { slope: $event! })" /></dd>
      <dt>With tube</dt><dd><CheckField :model-value="Boolean(room.floor)" label="With tube" @update:model-value="heatFloor" /></dd>
    </dl>
    <dl v-else class="facts">
      <dt>Use</dt><dd><ChoiceField :model-value="room.use" :options="USES" label="Use of the room" @update:model-value="change('change use', (r) => setUse(r, $event))" /></dd>
      <dt>Design temperature</dt><dd><JobField :path="`${at}.room_c`" label="Design temperature" /></dd>
      <dt>Ceiling height</dt><dd><JobField :path="`${at}.height_m`" label="Ceiling height" /></dd>
      <dt>Floor heated</dt><dd><CheckField :model-value="Boolean(room.floor)" label="Floor heated" @update:model-value="heatFloor" /></dd>
      <template v-if="room.floor">
        <dt>Thermostat zone</dt><dd><ZoneField :room="room" /></dd>
        <dt>May set the water</dt><dd title="A room that may not gets what the others' water gives it; the rest is said"><CheckField :model-value="room.governs ?? room.use !== 'bath'" label="May set the supply temperature" @update:model-value="set({ governs: $event })" /></dd>
      </template>
      <dt>Unheated space</dt><dd><CheckField :model-value="Boolean(room.unheated)" label="Unheated space" @update:model-value="set({ unheated: $event ? {} : undefined })" /></dd>
      <template v-if="room.unheated">
        <dt>Its temperature</dt><dd><JobField :path="`${at}.unheated.temperature_c`" label="Temperature of the unheated space" :empty="found ? `by its balance ${show('temperature', found.temperature_c, units)}` : 'by its balance'" wide /></dd>
      </template>
      <dt>Above</dt><dd><BeyondField :model-value="room.above" label="Above the room" :without="['ground', 'crawl_space']" @update:model-value="set({ above: $event! })" /></dd>
      <dt>Below</dt><dd><BeyondField :model-value="room.below" label="Below the room" @update:model-value="set({ below: $event! })" /></dd>
      <dt>Roof, ceiling</dt><dd><ConstructionField :model-value="room.roof_id" :positions="['roof', 'ceiling']" label="Roof of this room" empty="as the site" @update:model-value="set({ roof_id: $event })" /></dd>
      <template v-if="!room.floor"><dt>Floor</dt><dd><ConstructionField :model-value="room.floor_id" :positions="['floor', 'ceiling']" label="Floor of this room" empty="as the site" @update:model-value="set({ floor_id: $event })" /></dd></template>
      <dt>Air supplied</dt><dd><JobField :path="`${at}.supply_m3_h`" label="Air supplied" hint="From outside by the ventilation" /></dd>
      <dt>Air extracted</dt><dd><JobField :path="`${at}.extract_m3_h`" label="Air extracted" /></dd>
    </dl>
    <p v-if="neighbours.length" class="act">
      Merge with <ChoiceField v-model="partner" :options="neighbours.map((id) => ({ value: id, text: roomName(id) }))" label="Merge with" />
      <ElButton size="small" @click="merge">Merge</ElButton>
    </p>
  </template>
</template>

<style scoped>
.title :deep(.el-input__inner) { font-weight: 650; font-size: 16px; color: var(--ink); }
.title :deep(.el-input__wrapper:not(.is-focus, :hover)) { box-shadow: none; background: transparent; padding-left: 0; }
</style>
