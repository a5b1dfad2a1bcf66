<script setup lang="ts">
/** A name under a test, drawn by hand. */
import { computed, ref } from "vue";
import type { SignedAs } from "../../api/client";
import ChoiceField from "../../kit/ChoiceField.vue";
import TextField from "../../kit/TextField.vue";
import { SIGNED_AS } from "../../words";
import type { TestRow } from "./tests";
import SiteForm from "./SiteForm.vue";

const props = defineProps<{ test: TestRow }>();
const emit = defineEmits<{ close: [] }>();
const name = ref("");
const part = ref<SignedAs>("installer");
const strokes = ref<[number, number][][]>([]);
const drawing = ref(false);
const points = computed(() => strokes.value.reduce((n, s) => n + s.length, 0));
/** On a sheet three wide and one high. */
function at(e: PointerEvent): [number, number] {
  const box = (e.currentTarget as Element).getBoundingClientRect();
  const within = (v: number, most: number) => Math.round(Math.min(Math.max(v, 0), most) * 1000) / 1000;
  return [within(((e.clientX - box.left) / box.width) * 3, 3), within((e.clientY - box.top) / box.height, 1)];
}
function down(e: PointerEvent) {
  (e.currentTarget as Element).setPointerCapture(e.pointerId);
  drawing.value = true;
  strokes.value.push([at(e)]);
}
function move(e: PointerEvent) {
  if (drawing.value && points.value < 5000) strokes.value.at(-1)!.push(at(e));
}
function record() {
  if (!name.value.trim()) return "Write the name too.";
  if (points.value < 4) return "Sign in the field.";
  return { fact: { kind: "test_signed" as const, test: props.test.id, name: name.value.trim(), part: part.value, strokes: strokes.value.map((s) => s.map((p) => [...p] as [number, number])) } };
}
</script>

<template>
  <SiteForm :title="`${test.begun.name}: signed`" done="Sign" :record="record" @close="emit('close')">
    <label>As <ChoiceField v-model="part" :options="SIGNED_AS" label="Signed as" /></label>
    <label>Name <TextField v-model="name" label="Name of who signs" /></label>
    <svg class="pad" viewBox="0 0 3 1" role="img" aria-label="Sign here" @pointerdown.prevent="down" @pointermove="move" @pointerup="drawing = false" @pointercancel="drawing = false">
      <line x1="0.15" x2="2.85" y1="0.8" y2="0.8" />
      <polyline v-for="(s, k) in strokes" :key="k" :points="s.map((p) => p.join(',')).join(' ')" />
    </svg>
    <ElButton :disabled="!strokes.length" @click="strokes = []">Wipe it</ElButton>
  </SiteForm>
</template>

<style scoped>
.pad { width: 100%; aspect-ratio: 3; background: var(--floor); border: 1.5px solid var(--ink); border-radius: 4px; touch-action: none; cursor: crosshair; }
.pad line { stroke: var(--line); stroke-width: 0.008; }
.pad polyline { fill: none; stroke: var(--ink); stroke-width: 0.022; stroke-linecap: round; stroke-linejoin: round; }
</style>
