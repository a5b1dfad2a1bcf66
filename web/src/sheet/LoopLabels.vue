<script setup lang="ts">
/** Tags at the loops, in pixels; what they tell besides is the station's. */
import { computed } from "vue";
import type { LoopDesign } from "../api/client";
import { store } from "../job/store";
import { useSheet } from "./context";
import { tagPlaces } from "./water";

const props = defineProps<{ more: (loop: LoopDesign) => string; title: (loop: LoopDesign) => string }>();
const { view: v } = useSheet();
const { levelDesign: design } = store;
const places = computed(() => (design.value ? tagPlaces(design.value.loops) : []));
const tags = computed(() =>
  places.value.flatMap((t) => {
    const l = design.value?.loops.find((x) => x.id === t.id);
    if (!l) return [];
    const more = props.more(l);
    const text = more ? `${t.tag} ${more}` : t.tag;
    return [{ id: t.id, at: v.toScreen(t.at), text, half: Math.max(14, text.length * 3.4 + 6), title: props.title(l) }];
  }),
);
</script>

<template>
  <g v-for="t in tags" :key="t.id" class="tag" data-kind="loop" :data-id="t.id">
    <title>{{ t.title }}</title>
    <rect :x="t.at[0] - t.half" :y="t.at[1] - 9" :width="2 * t.half" height="18" rx="9" />
    <text :x="t.at[0]" :y="t.at[1] + 4">{{ t.text }}</text>
  </g>
</template>

<style scoped>
.tag { pointer-events: auto; cursor: pointer; }
.tag rect { fill: var(--sheet); stroke: var(--ink); }
.tag text { stroke: none; font-weight: 650; }
</style>
