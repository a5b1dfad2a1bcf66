<script setup lang="ts">
/** What the fluid in the heating was measured to be. */
import { ref } from "vue";
import ReadInstruments from "../../instruments/ReadInstruments.vue";
import { type Figures, figureKey, SIMULATED } from "../../instruments/read";
import QuantityField from "../../kit/QuantityField.vue";
import SiteForm from "../laying/SiteForm.vue";

const emit = defineEmits<{ close: [] }>();
const KPA = 1000;
const freezing = ref<number>();
const water = ref<number>();
const pressure = ref<number>();

const simulated = ref(false);
function fill(figures: Figures, made: boolean) {
  simulated.value = made;
  freezing.value = figures.get(figureKey("freezing_c", "")) ?? freezing.value;
  const kpa = figures.get(figureKey("cold_pressure_kpa", ""));
  if (kpa !== undefined) pressure.value = kpa * KPA;
}
function record() {
  if (freezing.value === undefined && water.value === undefined && pressure.value === undefined) return "Read at least one of them.";
  return { fact: { kind: "filled" as const, freezing_c: freezing.value ?? null, water_c: water.value ?? null, pressure_kpa: pressure.value === undefined ? null : pressure.value / KPA }, note: simulated.value ? SIMULATED : "" };
}
</script>

<template>
  <SiteForm title="What is in the heating" :record="record" @close="emit('close')">
    <ReadInstruments :ask="{ water: 'cold' }" label="Read it" :fields="[freezing, water, pressure]" @read="fill" />
    <label>Freezing point by refractometer <QuantityField v-model="freezing" label="Freezing point" quantity="temperature" :min="-60" :max="5" empty="not read" wide /></label>
    <label>Its temperature now <QuantityField v-model="water" label="Temperature" quantity="temperature" :min="-20" :max="100" empty="not read" wide /></label>
    <label>Pressure <QuantityField v-model="pressure" label="Pressure" quantity="gauge" :min="0" :max="1600000" empty="not read" wide /></label>
  </SiteForm>
</template>
