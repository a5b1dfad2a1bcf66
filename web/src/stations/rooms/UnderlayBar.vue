<script setup lang="ts">
/** The picture under the sheet: chosen, scaled by two points and a typed distance, moved, turned, dimmed. */
import { computed, nextTick, ref, watch } from "vue";
import { Refused, type Underlay } from "../../api/client";
import QuantityField from "../../kit/QuantityField.vue";
import { store } from "../../job/store";
import { parseLength, show } from "../../units";
import { isPdf, keepPicture, NotAPicture, openPdf, type Pdf } from "../../kit/pictures";
import { scaled, levelled, placed, turned } from "../../sheet/underlay";
import { useSheet } from "../../sheet/context";
import type { RoomTools } from "./tools";
import FilePick from "../../kit/FilePick.vue";

/** The picture has come under the plan, or has another size: all of it is to be seen. */
const emit = defineEmits<{ laid: [] }>();
const { view, box: tools } = useSheet<RoomTools>();
const draw = tools.hand;
const { level, units } = store;
const underlay = computed(() => level.value?.underlay ?? null);
const busy = ref("");
const wrong = ref("");
const pdf = ref<{ file: Pdf; name: string; page: number } | null>(null);
const distance = ref("");
const distanceField = ref<{ focus(): void }>();

const set = (label: string, u: Underlay | null, merge?: string) =>
  store.edit(label, (j) => (j.levels.find((l) => l.id === level.value!.id)!.underlay = u), merge);

async function take(file: File | undefined) {
  if (!file) return;
  wrong.value = "";
  busy.value = "Reading the picture…";
  pdf.value?.file.close();
  pdf.value = null;
  try {
    if (await isPdf(file)) {
      const open = await openPdf(file);
      if (open.pages > 1) {
        pdf.value = { file: open, name: file.name, page: 1 };
        return;
      }
      await keep(await open.page(1), file.name);
      open.close();
    } else await keep(file, file.name);
  } catch (e) {
    wrong.value = e instanceof Refused || e instanceof NotAPicture ? e.message : "The picture could not be kept: the server does not answer.";
  } finally {
    busy.value = "";
  }
}
async function takePage() {
  if (!pdf.value) return;
  busy.value = "Drawing the page…";
  try {
    await keep(await pdf.value.file.page(pdf.value.page), `${pdf.value.name}, page ${pdf.value.page}`);
    pdf.value.file.close();
    pdf.value = null;
  } catch {
    wrong.value = "This page could not be drawn.";
  } finally {
    busy.value = "";
  }
}
async function keep(blob: Blob, name: string) {
  const kept = await keepPicture(blob);
  set("lay a picture under", placed(kept, name.slice(0, 200), view));
  emit("laid");
  tools.choose("picture-scale");
}
defineExpose({ take });

const two = computed(() => draw.marks.length === 2);
watch(two, async (ready) => {
  if (!ready) return;
  if (draw.tool === "picture-level" && underlay.value) {
    set("turn the picture", levelled(underlay.value, draw.marks[0]!, draw.marks[1]!));
    tools.choose("select");
  } else {
    await nextTick();
    distanceField.value?.focus();
  }
});
function scale() {
  const m = parseLength(distance.value, units.value);
  if (!underlay.value || !two.value) return;
  if (m === null || m < 0.05 || m > 500) {
    wrong.value = `Type the true distance of the two points, for instance ${show("length", 4.2, units.value)}.`;
    return;
  }
  wrong.value = "";
  set("scale the picture", scaled(underlay.value, draw.marks[0]!, draw.marks[1]!, m));
  emit("laid");
  distance.value = "";
  tools.choose("select");
}
const middle = (u: Underlay): [number, number] => [u.at[0]! + (u.width_px * u.m_per_px) / 2, u.at[1]! + (u.height_px * u.m_per_px) / 2];
</script>

<template>
  <div class="picture" role="group" aria-label="Picture under the sheet">
    <FilePick label="Picture of the plan" accept="image/png,image/jpeg,application/pdf" @take="take">{{ underlay ? "Other picture" : "Choose a picture or PDF" }}</FilePick>
    <template v-if="pdf">
      <label>Page <ElInputNumber v-model="pdf.page" size="small" :min="1" :max="pdf.file.pages" :precision="0" controls-position="right" aria-label="Page of the PDF" /> of {{ pdf.file.pages }}</label>
      <ElButton size="small" @click="takePage">Take this page</ElButton>
    </template>
    <template v-if="underlay">
      <ElButton size="small" :type="draw.tool === 'picture-scale' ? 'primary' : 'default'" :aria-pressed="draw.tool === 'picture-scale'" @click="tools.choose('picture-scale')">Scale</ElButton>
      <ElButton size="small" :type="draw.tool === 'picture-move' ? 'primary' : 'default'" :aria-pressed="draw.tool === 'picture-move'" @click="tools.choose('picture-move')">Move</ElButton>
      <ElButton size="small" :type="draw.tool === 'picture-level' ? 'primary' : 'default'" :aria-pressed="draw.tool === 'picture-level'" @click="tools.choose('picture-level')">Straighten</ElButton>
      <label>Turn <QuantityField :model-value="underlay.turn_deg ?? 0" quantity="angle" label="Turn of the picture" :min="-360" :max="360" @update:model-value="set('turn the picture', turned(underlay!, middle(underlay!), $event! - (underlay!.turn_deg ?? 0)))" /></label>
      <span class="strength">Strength <ElSlider :model-value="underlay.strength" :min="0.05" :max="1" :step="0.05" size="small" :show-tooltip="false" aria-label="Strength of the picture" @input="set('dim the picture', { ...underlay!, strength: Number($event) }, 'dim')" @change="store.settle()" /></span>
      <ElButton size="small" @click="set('take the picture away', null)">Take away</ElButton>
    </template>
    <form v-if="draw.tool === 'picture-scale' && two" class="scale" @submit.prevent="scale">
      <label>These two points are <ElInput ref="distanceField" v-model="distance" size="small" aria-label="True distance" :placeholder="show('length', 4.2, units)" /> apart</label>
      <ElButton size="small" native-type="submit">Set the scale</ElButton>
    </form>
    <span v-if="busy" role="status">{{ busy }}</span>
    <span v-if="wrong" class="wrong" role="alert">{{ wrong }}</span>
  </div>
</template>

<style scoped>
.picture { display: flex; flex-wrap: wrap; gap: 4px 10px; align-items: center; padding: 4px 10px; background: var(--paper); border: 1px solid var(--line); border-top: 0; border-left: 0; }
.scale { display: inline-flex; gap: 6px; align-items: center; }
.strength { display: inline-flex; gap: 10px; align-items: center; color: var(--soft); }
.strength .el-slider { width: 90px; }
.wrong { color: var(--ember); font-weight: 600; }
</style>
