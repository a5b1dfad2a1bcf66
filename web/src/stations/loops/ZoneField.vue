<script setup lang="ts">
/** The thermostat zone of a room: rooms of one zone may share loops. */
import { computed, ref, watch } from "vue";
import type { Room } from "../../api/client";
import { roomOf } from "../../job/edit";
import { store } from "../../job/store";

const props = defineProps<{ room: Room }>();
const zones = computed(() => [...new Set((store.job.value?.rooms ?? []).flatMap((r) => r.zone ?? []))].sort());
const text = ref(props.room.zone ?? "");
watch(() => props.room.zone, (zone) => (text.value = zone ?? ""));
const suggest = (typed: string, give: (found: { value: string }[]) => void) => give(zones.value.filter((z) => z.includes(typed)).map((value) => ({ value })));
function set(name: string) {
  store.edit("choose zone", (draft) => {
    const room = roomOf(draft, props.room.id);
    if (room) room.zone = name.trim() || undefined;
  });
}
</script>

<template>
  <ElAutocomplete
    v-model="text" size="small" aria-label="Thermostat zone" placeholder="its own thermostat" title="Rooms of one zone are controlled together and may share loops" :maxlength="60"
    :fetch-suggestions="suggest" :trigger-on-focus="zones.length > 0" @change="set(String($event))" @select="set(String($event.value))" />
</template>
