<script setup lang="ts">
/** A new row of a table: the room and wall it goes to, then the button. */
import { computed, ref } from "vue";
import type { Room } from "../../../api/client";
import { store } from "../../../job/store";
import ChoiceField from "../../../kit/ChoiceField.vue";
import { wallsOf } from "./walls";

defineProps<{ words: string; onWall?: boolean }>();
const emit = defineEmits<{ add: [room: Room, edge: number] }>();
const { job } = store;
const rooms = computed(() => job.value?.rooms ?? []);
const roomId = ref("");
const edge = ref(0);
const room = computed(() => rooms.value.find((r) => r.id === roomId.value) ?? rooms.value[0]);
</script>

<template>
  <form class="add" @submit.prevent>
    <ChoiceField :model-value="room?.id" :options="rooms.map((r) => ({ value: r.id, text: r.name }))" label="Room" @update:model-value="roomId = $event; edge = 0" />
    <ChoiceField v-if="onWall && room" v-model="edge" :options="wallsOf(room)" label="Wall" />
    <slot />
    <ElButton size="small" :disabled="!room" @click="room && emit('add', room, edge)">{{ words }}</ElButton>
  </form>
</template>

<style scoped>
.add { display: flex; flex-wrap: wrap; gap: 6px; padding: 4px 8px; }
.add .choice { width: 170px; }
</style>
