<script setup lang="ts">
/** How far a loop is, with the marks read on the tube. */
import { computed, ref } from "vue";
import type { LayStep } from "../../api/client";
import { store } from "../../job/store";
import QuantityField from "../../kit/QuantityField.vue";
import TextField from "../../kit/TextField.vue";
import { show } from "../../units";
import { laidFrom, type LoopRow } from "./log";
import PhotoPick from "./PhotoPick.vue";
import SiteForm from "./SiteForm.vue";

const props = defineProps<{ loop: LoopRow; step: LayStep }>();
const emit = defineEmits<{ close: [] }>();
const { units } = store;
const coil = ref(props.loop.coil_used || props.loop.coil || "");
const start = ref<number | undefined>(props.loop.start_m ?? undefined);
/** What the plan says is no reading: it stands in the empty field. */
const planned = computed(() => (props.loop.port_m == null ? "not read" : `not read; planned ${show("tube", props.loop.port_m, units.value)}`));
const end = ref<number | undefined>(props.loop.end_m ?? undefined);
const reason = ref(props.loop.reason ?? "");
const photos = ref<Blob[]>([]);
const TITLES: Record<LayStep, string> = { not_started: "taken up again", on_floor: "lies", fixed: "is fixed", seen: "looked at" };
const used = computed(() => (start.value !== undefined && end.value !== undefined ? Math.abs(end.value - start.value) : null));
const off = computed(() => (used.value === null ? 0 : used.value - laidFrom(props.loop)));
const unusual = computed(() => Math.abs(off.value) > props.loop.tolerance_m);
const up = computed(() => props.step === "not_started");

function record() {
  if (unusual.value && !up.value && !reason.value.trim()) return "Say why it took other than its drawn length.";
  const marks = up.value ? {} : { coil: coil.value.trim(), start_m: start.value ?? null, end_m: end.value ?? null, design_m: laidFrom(props.loop) };
  return { fact: { kind: "laid" as const, loop_id: props.loop.loop_id, step: props.step, ...marks, reason: reason.value.trim() }, photos: photos.value };
}
</script>

<template>
  <SiteForm :title="`Loop ${loop.tag} ${TITLES[step]}`" :record="record" @close="emit('close')">
    <template v-if="!up">
      <label>Coil <TextField v-model="coil" label="Coil" :max="40" /></label>
      <label>Mark at the supply port <QuantityField v-model="start" label="Mark at the supply port" quantity="tube" :min="0" :max="2000" :empty="planned" wide /></label>
      <label>Mark at the return port <QuantityField v-model="end" label="Mark at the return port" quantity="tube" :min="0" :max="2000" empty="not read" wide /></label>
      <p v-if="used !== null" role="status">{{ show("tube", used, units) }} of tube, drawn {{ show("tube", laidFrom(loop), units) }}: {{ Math.abs(off) < 0.005 ? "as drawn" : `${show("tube", Math.abs(off), units)} ${off > 0 ? "more" : "less"}` }}.</p>
    </template>
    <label v-if="unusual || up || reason">{{ up ? "Why" : "Why more or less" }} <TextField v-model="reason" label="Reason" :lines="2" /></label>
    <PhotoPick v-model="photos" />
  </SiteForm>
</template>

