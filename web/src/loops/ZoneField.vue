<script setup lang="ts">
/** The thermostat zone of a room: rooms of one zone may share loops. */
import { computed } from "vue";
import type { Room } from "../api/client";
import { roomOf } from "../job/edit";
import { store } from "../job/store";

const props = defineProps<{ room: Room }>();
const zones = computed(() => [...new Set((store.job.value?.rooms ?? []).flatMap((r) => r.zone ?? []))].sort());
function set(name: string) {
  store.edit("choose zone", (draft) => {
    const room = roomOf(draft, props.room.id);
    if (room) room.zone = name.trim() || undefined;
  });
}
</script>

<template>
  <input :value="room.zone ?? ''" list="zones" aria-label="Thermostat zone" placeholder="its own thermostat" title="Rooms of one zone are controlled together and may share loops" maxlength="60" @change="set(($event.target as HTMLInputElement).value)" />
  <datalist id="zones"><option v-for="z in zones" :key="z">{{ z }}</option></datalist>
</template>

<style scoped>
input { width: 11em; max-width: 100%; }
</style>
