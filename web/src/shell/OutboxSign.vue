<script setup lang="ts">
/** What waits in this browser to be sent, and what the server did not take. */
import { computed } from "vue";
import { outbox } from "../offline/waiting";

const { state } = outbox;
const refused = computed(() => state.waiting.filter((w) => w.refused).length);
const own = computed(() => state.waiting.length - refused.value - state.others);
const records = (n: number) => `${n} ${n === 1 ? "record" : "records"}`;
const text = computed(() => {
  if (refused.value) return `${records(refused.value)} not taken`;
  if (own.value > 0) return `${records(own.value)} ${own.value === 1 ? "waits" : "wait"}${state.offline ? " for a connection" : ""}`;
  if (state.others) return `${records(state.others)} of somebody else ${state.others === 1 ? "waits" : "wait"} for them to sign in`;
  return "";
});
</script>

<template>
  <span v-if="text" class="outbox" :class="{ refused }" role="status">{{ text }} <ElButton v-if="refused" link type="primary" @click="outbox.insist()">Try again</ElButton><ElButton v-else-if="own > 0" link type="primary" @click="outbox.retry()">Send now</ElButton></span>
</template>

<style scoped>
.outbox { font-size: 13px; padding: 1px 8px; border-radius: 10px; border: 1px solid var(--warn); color: var(--warn); font-weight: 600; white-space: nowrap; }
.outbox.refused { border-color: var(--ember); color: var(--ember); }
</style>
