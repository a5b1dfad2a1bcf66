<script setup lang="ts">
/** Fills the fields beside it from an instrument: which one, and a button that reads it. */
import { ref } from "vue";
import ChoiceField from "../kit/ChoiceField.vue";
import { useInstrument } from "./chosen";
import { type Ask, type Figures, NotRead, read } from "./read";

const props = defineProps<{
  ask: Ask;
  /** What its button says. */
  label: string;
  /** What the fields hold: an answer that comes after one of them was typed into is not put over it. */
  fields: unknown;
}>();
/** `simulated`: whatever is written down of it says so. */
const emit = defineEmits<{ read: [figures: Figures, simulated: boolean] }>();
const { options, chosen, choose, byHand, simulated, url, withHouse } = useInstrument();
const busy = ref(false);
const wrong = ref("");
const old = ref(false);
const held = () => JSON.stringify(props.fields);

async function readNow() {
  const [before, from] = [held(), chosen.value];
  busy.value = true;
  wrong.value = "";
  old.value = false;
  try {
    const got = await read(url.value, withHouse(props.ask));
    if (chosen.value !== from) return;
    if (held() !== before) throw new NotRead("Something was typed while the instrument was read: that stays. Read it again to have its figures.");
    old.value = got.old;
    emit("read", got.figures, simulated.value);
  } catch (e) {
    wrong.value = e instanceof NotRead ? e.message : "The instrument could not be read.";
  } finally {
    busy.value = false;
  }
}
</script>

<template>
  <div class="instruments" role="group" aria-label="Instrument">
    <span>Instrument</span>
    <ChoiceField :model-value="chosen" :options="options" label="Instrument" @update:model-value="choose" />
    <ElButton v-if="!byHand" size="large" :loading="busy" @click="readNow">{{ label }}</ElButton>
    <p v-if="simulated" class="simulated">Made up by Fuoco's own model: for trying and teaching, no record of a floor.</p>
    <ElAlert v-if="wrong" type="error" :title="wrong" :closable="false" show-icon role="alert" />
    <ElAlert v-else-if="old" type="warning" title="These readings are more than ten minutes off this device's clock. Has the instrument stopped?" :closable="false" show-icon role="alert" />
  </div>
</template>

<style scoped>
.instruments { display: flex; flex-wrap: wrap; gap: 8px; align-items: center; padding: 6px 0; border-bottom: 1px solid var(--faint); margin-bottom: 6px; }
.instruments > span { color: var(--soft); }
.instruments :deep(.el-select) { flex: 1 1 200px; --el-component-size: 48px; font-size: 16px; }
.instruments :deep(.el-select__wrapper) { min-height: 48px; font-size: 16px; }
.instruments :deep(.el-button) { min-height: 48px; font-size: 16px; margin: 0; }
.simulated { flex-basis: 100%; margin: 0; color: var(--soft); }
</style>
