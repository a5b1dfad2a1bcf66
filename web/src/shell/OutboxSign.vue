<script setup lang="ts">
/** What waits in this browser to be sent, and what the server did not take. */
import { computed } from "vue";
import { outbox } from "../offline/waiting";
import { useSession } from "../people/session";

const { state } = outbox;
const refused = computed(() => state.waiting.filter((w) => w.refused).length);
const own = computed(() => state.waiting.filter((w) => !w.refused && outbox.mine(w)).length);
const others = computed(() => state.waiting.filter((w) => !outbox.mine(w)));
const { info } = useSession();
const records = (n: number) => `${n} ${n === 1 ? "record" : "records"}`;
const text = computed(() => {
  if (refused.value) return `${records(refused.value)} not taken`;
  if (own.value > 0) return `${records(own.value)} ${own.value === 1 ? "waits" : "wait"}${state.offline ? " for a connection" : ""}`;
  if (others.value.length) return `${records(others.value.length)} of ${[...new Set(others.value.map((w) => w.who))].join(", ")} ${others.value.length === 1 ? "waits" : "wait"}`;
  return "";
});
</script>

<template>
  <span v-if="text" class="outbox" :class="{ refused }" role="status">{{ text }} <ElButton v-if="refused" link type="primary" @click="outbox.insist()">Try again</ElButton><ElButton v-else-if="own === 0 && info?.name" link type="primary" @click="outbox.adopt()">Send under my name</ElButton><ElButton v-else-if="own > 0" link type="primary" @click="outbox.retry()">Send now</ElButton></span>
</template>

<style scoped>
.outbox { font-size: 13px; padding: 1px 8px; border-radius: 10px; border: 1px solid var(--warn); color: var(--warn); font-weight: 600; white-space: nowrap; }
.outbox.refused { border-color: var(--ember); color: var(--ember); }
</style>
