<script setup lang="ts">
/** The thermostat zone of a room: rooms of one zone may share loops. */
import { computed } from "vue";
import type { Room } from "../../api/client";
import { roomOf } from "../../job/edit";
import { store } from "../../job/store";

const props = defineProps<{ room: Room }>();
const zones = computed(() => [...new Set((store.job.value?.rooms ?? []).flatMap((r) => r.zone ?? []))].sort());
function set(name: string) {
  store.edit("choose zone", (draft) => {
    const room = roomOf(draft, props.room.id);
    if (room) room.zone = name.trim().slice(0, 60) || undefined;
  });
}
</script>

<template>
  <ElSelect
    :model-value="room.zone ?? ''" size="small" filterable allow-create default-first-option clearable :show-arrow="false" aria-label="Thermostat zone" placeholder="its own thermostat"
    title="Rooms of one zone are controlled together and may share loops" @update:model-value="set(String($event ?? ''))">
    <ElOption v-for="z in zones" :key="z" :value="z" :label="z" />
  </ElSelect>
</template>
