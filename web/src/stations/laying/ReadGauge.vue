<script setup lang="ts">
/** One reading of a gauge. */
import { ref } from "vue";
import type { During } from "../../api/client";
import { store } from "../../job/store";
import ChoiceField from "../../kit/ChoiceField.vue";
import QuantityField from "../../kit/QuantityField.vue";
import { outbox } from "../../offline/waiting";
import { show } from "../../units";
import PhotoPick from "./PhotoPick.vue";
import type { TestRow } from "./tests";
import { notKept } from "./words";

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
const wrong = ref("");

async function keep() {
  wrong.value = "";
  if (gauge.value === undefined) return void (wrong.value = "Read the gauge first.");
  try {
    await outbox.add(store.state.id, {
      fact: { kind: "test_read", test: props.test.id, gauge_kpa: gauge.value / KPA, air_c: air.value ?? null, slab_c: slab.value ?? null, barometer_kpa: barometer.value === undefined ? null : barometer.value / KPA, during: during.value },
      photos: photos.value,
    });
    emit("close");
  } catch (e) {
    wrong.value = notKept(e);
  }
}
</script>

<template>
  <ElDialog :model-value="true" :title="`${test.begun.name}: the gauge`" width="min(460px, 96vw)" append-to-body @close="emit('close')">
    <form class="site-form sun" @submit.prevent="keep">
      <label>Gauge <QuantityField v-model="gauge" label="Gauge" quantity="gauge" :min="0" :max="test.begun.gauge.range_kpa * 1000" empty="not read" wide /></label>
      <p v-if="last">Last: {{ show("gauge", last.read.gauge_kpa * 1000, store.units.value) }}</p>
      <label>Slab or tube <QuantityField v-model="slab" label="Slab" quantity="temperature" :min="-40" :max="90" empty="not read" wide /></label>
      <label>Air beside it <QuantityField v-model="air" label="Air" quantity="temperature" :min="-40" :max="60" empty="not read" wide /></label>
      <label>Barometer <QuantityField v-model="barometer" label="Barometer" quantity="gauge" :min="50000" :max="110000" empty="not read" wide /></label>
      <label>When <ChoiceField v-model="during" :options="{ before: 'before the pour', pour: 'during the pour', after: 'after the pour' }" label="When" /></label>
      <PhotoPick v-model="photos" />
      <ElAlert v-if="wrong" type="error" :title="wrong" :closable="false" show-icon role="alert" />
      <div class="do"><ElButton size="large" @click="emit('close')">Cancel</ElButton><ElButton size="large" type="primary" native-type="submit">Write it down</ElButton></div>
    </form>
  </ElDialog>
</template>
