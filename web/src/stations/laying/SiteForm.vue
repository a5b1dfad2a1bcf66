<script setup lang="ts">
/** A dialog that writes something down on site: its fields are the slot's. */
import { ref } from "vue";
import { outbox } from "../../offline/waiting";
import type { NewRecord } from "../../offline/outbox";
import { store } from "../../job/store";
import { notKept } from "./words";

const props = defineProps<{
  title: string;
  /** What its button says. */
  done?: string;
  /** What is written down, or what is missing for it. */
  record: () => NewRecord | string;
}>();
const emit = defineEmits<{ close: []; kept: [] }>();
const wrong = ref("");
const busy = ref(false);

async function keep() {
  const record = props.record();
  wrong.value = typeof record === "string" ? record : "";
  // a second press while the first is kept writes nothing twice
  if (typeof record === "string" || busy.value) return;
  busy.value = true;
  try {
    await outbox.add(store.state.id, record);
    emit("kept");
    emit("close");
  } catch (e) {
    wrong.value = notKept(e);
  } finally {
    busy.value = false;
  }
}
</script>

<template>
  <ElDialog :model-value="true" :title="title" width="min(500px, 96vw)" append-to-body @close="emit('close')">
    <form class="site-form sun" @submit.prevent="keep">
      <slot />
      <ElAlert v-if="wrong" type="error" :title="wrong" :closable="false" show-icon role="alert" />
      <div class="do"><ElButton size="large" @click="emit('close')">Cancel</ElButton><ElButton size="large" type="primary" native-type="submit">{{ done ?? "Write it down" }}</ElButton></div>
    </form>
  </ElDialog>
</template>
