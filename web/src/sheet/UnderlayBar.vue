<script setup lang="ts">
/** The picture under the sheet: chosen, scaled by two points and a typed distance, moved, turned, dimmed. */
import { computed, nextTick, ref, watch } from "vue";
import { Refused, type Underlay } from "../api/client";
import Quantity from "../components/Quantity.vue";
import { store } from "../job/store";
import { parseLength, show } from "../units";
import { isPdf, keepPicture, NotAPicture, openPdf, type Pdf } from "./pictures";
import { scaled, levelled, placed, turned } from "./underlay";
import type { Tools } from "./tools";
import type { View } from "./view";

const props = defineProps<{ tools: Tools; view: View }>();
const draw = props.tools.draw;
const { level, units } = store;
const underlay = computed(() => level.value?.underlay ?? null);
const busy = ref("");
const wrong = ref("");
const pdf = ref<{ file: Pdf; name: string; page: number } | null>(null);
const distance = ref("");
const distanceField = ref<HTMLInputElement>();

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
  set("lay a picture under", placed(kept, name.slice(0, 200), props.view));
  props.tools.choose("picture-scale");
}
defineExpose({ take });

const two = computed(() => draw.marks.length === 2);
watch(two, async (ready) => {
  if (!ready) return;
  if (draw.tool === "picture-level" && underlay.value) {
    set("turn the picture", levelled(underlay.value, draw.marks[0]!, draw.marks[1]!));
    props.tools.choose("select");
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
  distance.value = "";
  props.tools.choose("select");
}
const middle = (u: Underlay): [number, number] => [u.at[0]! + (u.width_px * u.m_per_px) / 2, u.at[1]! + (u.height_px * u.m_per_px) / 2];
</script>

<template>
  <div class="picture" role="group" aria-label="Picture under the sheet">
    <label class="pick"><input type="file" class="visually-hidden" accept="image/png,image/jpeg,application/pdf" aria-label="Picture of the plan" @change="take(($event.target as HTMLInputElement).files?.[0]); ($event.target as HTMLInputElement).value = ''" />{{ underlay ? "Other picture" : "Choose a picture or PDF" }}</label>
    <template v-if="pdf">
      <label>Page <input v-model.number="pdf.page" type="number" min="1" :max="pdf.file.pages" aria-label="Page of the PDF" /> of {{ pdf.file.pages }}</label>
      <button @click="takePage">Take this page</button>
    </template>
    <template v-if="underlay">
      <button :class="{ on: draw.tool === 'picture-scale' }" @click="tools.choose('picture-scale')">Scale</button>
      <button :class="{ on: draw.tool === 'picture-move' }" @click="tools.choose('picture-move')">Move</button>
      <button :class="{ on: draw.tool === 'picture-level' }" @click="tools.choose('picture-level')">Straighten</button>
      <label>Turn <Quantity :model-value="underlay.turn_deg ?? 0" quantity="angle" label="Turn of the picture" :min="-360" :max="360" @update:model-value="set('turn the picture', turned(underlay!, middle(underlay!), $event! - (underlay!.turn_deg ?? 0)))" /></label>
      <label>Strength <input type="range" min="0.05" max="1" step="0.05" :value="underlay.strength" aria-label="Strength of the picture" @input="set('dim the picture', { ...underlay!, strength: Number(($event.target as HTMLInputElement).value) }, 'dim')" @change="store.settle()" /></label>
      <button @click="set('take the picture away', null)">Take away</button>
    </template>
    <form v-if="draw.tool === 'picture-scale' && two" class="scale" @submit.prevent="scale">
      <label>These two points are <input ref="distanceField" v-model="distance" aria-label="True distance" :placeholder="show('length', 4.2, units)" /> apart</label>
      <button type="submit">Set the scale</button>
    </form>
    <span v-if="draw.tool === 'picture-scale' && !two" role="status">Click two points of the picture whose distance you know.</span>
    <span v-if="draw.tool === 'picture-level' && !two" role="status">Click two points of a wall that runs level or upright.</span>
    <span v-if="draw.tool === 'picture-move'" role="status">Drag the picture.</span>
    <span v-if="busy" role="status">{{ busy }}</span>
    <span v-if="wrong" class="wrong" role="alert">{{ wrong }}</span>
  </div>
</template>

<style scoped>
.picture { display: flex; flex-wrap: wrap; gap: 4px 10px; align-items: center; padding: 4px 10px; background: var(--paper); border: 1px solid var(--line); border-top: 0; border-left: 0; }
button, .pick { border: 1px solid var(--line); background: var(--sheet); color: var(--ink); border-radius: 3px; padding: 2px 8px; cursor: pointer; }
.pick:focus-within { outline: 2px solid var(--ember); outline-offset: 1px; }
button.on { background: var(--ember); color: #fff; }
input[type="number"] { width: 58px; }
input[type="range"] { width: 90px; padding: 0; vertical-align: middle; }
.scale { display: inline-flex; gap: 6px; align-items: center; }
.scale input { width: 90px; margin: 0 4px; }
.wrong { color: var(--ember); font-weight: 600; }
</style>
