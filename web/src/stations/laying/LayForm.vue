<script setup lang="ts">
/** How far a loop is, with the marks read on the tube. */
import { computed, ref } from "vue";
import type { LayStep } from "../../api/client";
import { store } from "../../job/store";
import QuantityField from "../../kit/QuantityField.vue";
import TextField from "../../kit/TextField.vue";
import { outbox } from "../../offline/waiting";
import { show } from "../../units";
import type { LoopRow } from "./log";
import PhotoPick from "./PhotoPick.vue";
import { notKept } from "./words";

const props = defineProps<{ loop: LoopRow; step: LayStep }>();
const emit = defineEmits<{ close: [] }>();
const { units, state } = store;
const coil = ref(props.loop.coil_used || props.loop.coil || "");
const start = ref<number | undefined>(props.loop.start_m ?? props.loop.port_m ?? undefined);
const end = ref<number | undefined>(props.loop.end_m ?? undefined);
const reason = ref(props.loop.reason ?? "");
const photos = ref<Blob[]>([]);
const wrong = ref("");
const TITLES: Record<LayStep, string> = { not_started: "taken up again", on_floor: "lies", fixed: "is fixed", seen: "looked at" };
const used = computed(() => (start.value !== undefined && end.value !== undefined ? Math.abs(end.value - start.value) : null));
const off = computed(() => (used.value === null ? 0 : used.value - props.loop.drawn_m));
const unusual = computed(() => Math.abs(off.value) > props.loop.tolerance_m);
const up = computed(() => props.step === "not_started");

async function keep() {
  wrong.value = "";
  if (unusual.value && !up.value && !reason.value.trim()) return void (wrong.value = "Say why it took other than its drawn length.");
  const { loop_id, drawn_m } = props.loop;
  try {
    const marks = up.value ? {} : { coil: coil.value.trim(), start_m: start.value ?? null, end_m: end.value ?? null, design_m: drawn_m };
    await outbox.add(state.id, { fact: { kind: "laid", loop_id, step: props.step, ...marks, reason: reason.value.trim() }, photos: photos.value });
    emit("close");
  } catch (e) {
    wrong.value = notKept(e);
  }
}
</script>

<template>
  <ElDialog :model-value="true" :title="`Loop ${loop.tag} ${TITLES[step]}`" width="min(460px, 96vw)" append-to-body @close="emit('close')">
    <form class="site-form sun" @submit.prevent="keep">
      <template v-if="!up">
        <label>Coil <TextField v-model="coil" label="Coil" :max="40" /></label>
        <label>Mark at the supply port <QuantityField v-model="start" label="Mark at the supply port" quantity="tube" :min="0" :max="2000" empty="not read" wide /></label>
        <label>Mark at the return port <QuantityField v-model="end" label="Mark at the return port" quantity="tube" :min="0" :max="2000" empty="not read" wide /></label>
        <p v-if="used !== null" role="status">{{ show("tube", used, units) }} of tube, drawn {{ show("tube", loop.drawn_m, units) }}: {{ Math.abs(off) < 0.005 ? "as drawn" : `${show("tube", Math.abs(off), units)} ${off > 0 ? "more" : "less"}` }}.</p>
      </template>
      <label v-if="unusual || up || reason">{{ up ? "Why" : "Why more or less" }} <TextField v-model="reason" label="Reason" :lines="2" /></label>
      <PhotoPick v-model="photos" />
      <ElAlert v-if="wrong" type="error" :title="wrong" :closable="false" show-icon role="alert" />
      <div class="do"><ElButton size="large" @click="emit('close')">Cancel</ElButton><ElButton size="large" type="primary" native-type="submit">Write it down</ElButton></div>
    </form>
  </ElDialog>
</template>

