<script setup lang="ts">
/** One reading of a gauge. */
import { ref } from "vue";
import type { During } from "../../api/client";
import { store } from "../../job/store";
import ReadInstruments from "../../instruments/ReadInstruments.vue";
import { type Figures, figureKey, SIMULATED } from "../../instruments/read";
import ChoiceField from "../../kit/ChoiceField.vue";
import QuantityField from "../../kit/QuantityField.vue";
import { show } from "../../units";
import { DURING } from "../../words";
import PhotoPick from "./PhotoPick.vue";
import type { TestRow } from "./tests";
import SiteForm from "./SiteForm.vue";

const props = defineProps<{ test: TestRow }>();
const emit = defineEmits<{ close: [] }>();
const KPA = 1000;
const last = props.test.readings.at(-1);
const gauge = ref<number>();
const air = ref<number>();
const slab = ref<number>();
const barometer = ref<number>();
const during = ref<During>(last?.read.during ?? "before");
const photos = ref<Blob[]>([]);

const simulated = ref(false);
function fill(figures: Figures, made: boolean) {
  simulated.value = made;
  const of = (what: string, factor = 1) => {
    const v = figures.get(figureKey(what, props.test.id)) ?? figures.get(figureKey(what, ""));
    return v === undefined ? undefined : v * factor;
  };
  gauge.value = of("gauge_kpa", KPA) ?? gauge.value;
  slab.value = of("slab_c") ?? slab.value;
  air.value = of("air_c") ?? air.value;
  barometer.value = of("barometer_kpa", KPA) ?? barometer.value;
}
function record() {
  if (gauge.value === undefined) return "Read the gauge first.";
  return {
    fact: { kind: "test_read" as const, test: props.test.id, gauge_kpa: gauge.value / KPA, air_c: air.value ?? null, slab_c: slab.value ?? null, barometer_kpa: barometer.value === undefined ? null : barometer.value / KPA, during: during.value },
    photos: photos.value,
    note: simulated.value ? SIMULATED : "",
  };
}
</script>

<template>
  <SiteForm :title="`${test.begun.name}: the gauge`" :record="record" @close="emit('close')">
    <ReadInstruments :ask="{ test: test.id }" label="Read it" :fields="[gauge, slab, air, barometer]" @read="fill" />
    <label>Gauge <QuantityField v-model="gauge" label="Gauge" quantity="gauge" :min="0" :max="test.begun.test.gauge.range_kpa * 1000" empty="not read" wide /></label>
    <p v-if="last">Last: {{ show("gauge", last.read.gauge_kpa * 1000, store.units.value) }}</p>
    <label>Slab or tube <QuantityField v-model="slab" label="Slab" quantity="temperature" :min="-40" :max="90" empty="not read" wide /></label>
    <label>Air beside it <QuantityField v-model="air" label="Air" quantity="temperature" :min="-40" :max="60" empty="not read" wide /></label>
    <label>Barometer <QuantityField v-model="barometer" label="Barometer" quantity="gauge" :min="50000" :max="110000" empty="not read" wide /></label>
    <label>When <ChoiceField v-model="during" :options="DURING" label="When" /></label>
    <PhotoPick v-model="photos" />
  </SiteForm>
</template>
