<script setup lang="ts">
/** Bar of the thermal picture: how the house is piped and opened, the time, a photo to compare. */
import { computed } from "vue";
import { store } from "../../job/store";
import ChoiceField from "../../kit/ChoiceField.vue";
import FilePick from "../../kit/FilePick.vue";
import LongWork from "../../kit/LongWork.vue";
import QuantityField from "../../kit/QuantityField.vue";
import { useSheet } from "../../sheet/context";
import ToolBar from "../../sheet/ToolBar.vue";
import { show } from "../../units";
import { useStationView } from "../view";
import { asked, clockOf, dropPhoto, photo, SUNS, takePhoto, useThermal, WRONGS, type Wrong } from "./thermal";

const { show: showView } = useStationView();
const sheet = useSheet();
const { loops, trouble, at, last, time_s, playing, play, pause, old, share, stopped, stop, goOn } = useThermal();
const HOURS = [3, 6, 12, 24, 48, 96].map((h) => ({ value: h, text: h < 48 ? `${h} hours` : `${h / 24} days` }));
const tags = computed(() => loops.value.map((l) => ({ value: l.id, text: l.tag })));
const others = computed(() => tags.value.filter((t) => t.value !== asked.first));
const wrong = computed({
  get: () => asked.wrong,
  set: (w: Wrong) => {
    asked.wrong = w;
    asked.first ||= loops.value[0]?.id ?? "";
    asked.second = others.value.some((o) => o.value === asked.second) ? asked.second : (others.value[0]?.value ?? "");
  },
});
const sunny = computed(() => asked.sun !== "none");
const clock = computed(() => (sunny.value ? clockOf(time_s.value) : `${(time_s.value / 3600).toFixed(1)} h`));
async function laid(file: File) {
  const picture = await createImageBitmap(file).catch(() => null);
  if (!picture) {
    sheet.box.hand.problem = "This file is no picture that this browser can read.";
    return;
  }
  sheet.box.hand.problem = "";
  const { view } = sheet.view;
  takePhoto(URL.createObjectURL(file), file.name, [picture.width, picture.height], [view.x, view.y], Math.max(0.5, Math.round((5 * view.width) / view.scale) / 10));
  picture.close();
  sheet.box.choose("photo");
}
function away() {
  dropPhoto();
  sheet.box.choose("look");
}
</script>

<template>
  <div class="thermal-bar no-print">
    <div class="time" :class="{ old }">
      <ElButton size="small" :disabled="!last" @click="play">{{ playing ? "Pause" : "Play" }}</ElButton>
      <ElSlider class="slider" :model-value="at" :min="0" :max="Math.max(1, last)" :step="1" size="small" :show-tooltip="false" :disabled="!last" :aria-label="sunny ? 'Time of day' : 'Time since the heat came on'" :format-value-text="() => clock" @update:model-value="at = Number($event)" @input="pause()" />
      <output class="clock" aria-label="Time shown">{{ clock }}</output>
      <label v-if="!sunny">of <ChoiceField v-model="asked.hours" class="hours" :options="HOURS" label="How long" /></label>
      <label>Sun <ChoiceField v-model="asked.sun" class="sun" :options="SUNS" label="Sun of a clear day" /></label>
      <label v-if="sunny">outdoors <QuantityField :model-value="asked.outdoor_c ?? undefined" quantity="temperature" label="Outdoors on that day" :min="-60" :max="40" empty="as designed" @update:model-value="asked.outdoor_c = $event ?? null" /></label>
      <label v-else>from <QuantityField :model-value="asked.begin_c" quantity="temperature" label="Floors and rooms at the beginning" :min="-20" :max="30" @update:model-value="asked.begin_c = $event ?? 12" /></label>
      <FilePick v-if="!photo.url" label="Photo of a thermal camera" accept="image/png,image/jpeg" @take="laid">Lay a photo over it</FilePick>
      <template v-else>
        <label>Photo <QuantityField :model-value="photo.width_m" quantity="length" label="Width of the photo on the floor" :min="0.1" :max="200" @update:model-value="photo.width_m = $event ?? photo.width_m" /> wide,</label>
        <label>turned <QuantityField :model-value="photo.turn_deg" quantity="angle" label="Turn of the photo" :min="-360" :max="360" @update:model-value="photo.turn_deg = $event ?? 0" /></label>
        <ElSlider v-model="photo.strength" class="strength" :min="0" :max="1" :step="0.05" size="small" :show-tooltip="false" aria-label="Strength of the photo" :format-value-text="(v: number) => show('share', v, store.units.value)" />
        <ElButton size="small" link type="primary" @click="away">Take the photo away</ElButton>
      </template>
    </div>
    <!-- last: its hints float under it -->
    <ToolBar label="Tools of the thermal picture">
      <ElButton size="small" @click="showView()">Back to the charts</ElButton>
      <label>Open <ChoiceField :model-value="asked.open || undefined" :options="tags" label="Loops that are open" empty="all loops" @update:model-value="asked.open = $event ?? ''" /></label>
      <label>Wrong <ChoiceField v-model="wrong" :options="WRONGS" label="What is wrong" /></label>
      <ChoiceField v-if="asked.wrong !== 'nothing'" v-model="asked.first" class="loop" :options="tags" label="The loop that is wrong" />
      <ChoiceField v-if="asked.wrong === 'swapped'" v-model="asked.second" class="loop" :options="others" label="The other loop" />
      <template #stack>
        <div v-if="share !== null || stopped" class="float"><LongWork :share="share" :stopped="stopped" what="The floors are followed" @stop="stop" @again="goOn" /></div>
        <p v-if="trouble" class="float" role="alert">No picture: {{ trouble }}</p>
      </template>
    </ToolBar>
  </div>
</template>

<style scoped>
.thermal-bar :deep(.choice) { width: 140px; }
.thermal-bar :deep(.loop) { width: 66px; }
.thermal-bar :deep(.hours) { width: 96px; }
.thermal-bar :deep(.sun) { width: 118px; }
label { display: flex; align-items: center; gap: 6px; white-space: nowrap; }
.time { display: flex; flex-wrap: wrap; align-items: center; gap: 4px 12px; padding: 3px 8px; border-bottom: 1px solid var(--line); background: var(--paper); }
.slider { flex: 1 1 180px; min-width: 120px; margin: 0 6px; }
.strength { flex: 0 1 110px; min-width: 80px; margin: 0 6px; }
.clock { min-width: 48px; font-variant-numeric: tabular-nums; }
</style>
