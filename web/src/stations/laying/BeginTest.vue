<script setup lang="ts">
/** What is tested, with what, and what is asked for. */
import { ref, watch } from "vue";
import type { Contents } from "../../api/client";
import { store } from "../../job/store";
import ChoiceField from "../../kit/ChoiceField.vue";
import QuantityField from "../../kit/QuantityField.vue";
import TextField from "../../kit/TextField.vue";
import { MEDIA } from "../../words";
import SiteForm from "./SiteForm.vue";

const props = defineProps<{ contents: Contents[] }>();
const emit = defineEmits<{ close: [] }>();
const KPA = 1000;
const which = ref("");
const medium = ref<"air" | "water">("air");
const litres = ref<number>();
const step = ref<number | undefined>(2 * KPA);
const range = ref<number | undefined>(1000 * KPA);
const altitude = ref<number | undefined>(store.job.value?.site.altitude_m ?? 0);
const barometer = ref<number>();
const pressure = ref<number | undefined>(400 * KPA);
const time = ref<number | undefined>(24 * 3600);
const names = () => props.contents.map((c) => ({ value: c.manifold_id, text: `Manifold ${c.letter}` }));
watch(
  () => props.contents,
  (all) => (which.value ||= all[0]?.manifold_id ?? ""),
  { immediate: true },
);
watch(which, (id) => (litres.value = Math.round((props.contents.find((c) => c.manifold_id === id)?.litres ?? 0) * 10) / 10 || undefined), { immediate: true });
const own = ref("");

function record() {
  const name = own.value.trim() || names().find((n) => n.value === which.value)?.text || "";
  if (!name) return "Say what is tested.";
  if (!litres.value) return "Say how much the tubes hold.";
  if (!pressure.value || time.value === undefined) return "Say which pressure is asked for, and for how long.";
  if (!step.value || !range.value) return "Say what the gauge shows.";
  if (range.value < pressure.value) return "The gauge ends below the pressure that is asked for.";
  const test = {
    medium: medium.value, volume_l: litres.value,
    gauge: { resolution_kpa: step.value / KPA, range_kpa: range.value / KPA },
    altitude_m: altitude.value ?? 0, barometer_kpa: barometer.value === undefined ? null : barometer.value / KPA,
    required: { pressure_kpa: pressure.value / KPA, hours: time.value / 3600 },
  };
  return { fact: { kind: "test_begun" as const, name, test } };
}
</script>

<template>
  <SiteForm title="Begin a pressure test" done="Begin" :record="record" @close="emit('close')">
    <label v-if="contents.length">What is tested <ChoiceField v-model="which" :options="names()" label="What is tested" /></label>
    <label>Or by name <TextField v-model="own" label="Name of the test" placeholder="Manifolds A and B together" /></label>
    <label>With <ChoiceField v-model="medium" :options="MEDIA" label="Medium" /></label>
    <p v-if="medium === 'air'" class="care">Air under pressure stores energy: glasses on, nobody near the ends, and only on what is made for it. Some codes forbid it.</p>
    <label>Contents <QuantityField v-model="litres" label="Contents" quantity="content" :min="0.1" :max="100000" wide /></label>
    <label>Asked for <QuantityField v-model="pressure" label="Required pressure" quantity="pressure" :min="1000" :max="2000000" wide /></label>
    <label>For <QuantityField v-model="time" label="Required time" quantity="time" :min="0" :max="3600000" wide /></label>
    <label>Least step of the gauge <QuantityField v-model="step" label="Least step of the gauge" quantity="gauge" :min="1" :max="100000" wide /></label>
    <label>End of its scale <QuantityField v-model="range" label="End of the scale" quantity="pressure" :min="1000" :max="10000000" wide /></label>
    <label>Height above the sea <QuantityField v-model="altitude" label="Altitude" quantity="length" :min="-500" :max="5000" wide /></label>
    <label>Barometer, where there is one <QuantityField v-model="barometer" label="Barometer" quantity="gauge" :min="50000" :max="110000" empty="by the height" wide /></label>
  </SiteForm>
</template>
