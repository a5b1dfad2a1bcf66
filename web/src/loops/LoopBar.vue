<script setup lang="ts">
/** Tools of the loops' sheet: what the pointer does, which picture lies on the floor, layouts compared. */
import { computed } from "vue";
import { store } from "../job/store";
import { kept } from "../job/loops";
import { release } from "./release";
import { LOOP_TOOLS, type LoopTools } from "./tools";

export type Picture = "none" | "distance" | "surface";
const props = defineProps<{ tools: LoopTools }>();
const picture = defineModel<Picture>("picture", { required: true });
const comparing = defineModel<boolean>("comparing", { required: true });
const hand = props.tools.hand;
const PICTURES: Record<Picture, string> = { none: "Water in the loops", distance: "Is tube within reach?", surface: "Where does the floor get warm?" };
const locked = computed(() => kept(store.job.value!).length);
const unlockAll = () => release(kept(store.job.value!).map((l) => l.id), "unlock all loops");
const hint = computed(() => {
  if (hand.problem) return "";
  if (hand.tool === "draw") return hand.marks.length ? "Click corners; back at the manifold, or Enter, ends it. Alt: free of the lattice. Esc leaves it." : "Click beside the manifold where the loop begins.";
  if (hand.tool === "split") return hand.marks.length ? "Click the wall where the split ends." : "Click the wall where the split begins.";
  return store.state.selection?.kind === "loop" ? "Drag a run or a corner; Alt: it alone, wherever you put it. Keys: , and . choose a run, arrows move it." : "Click a loop to choose it.";
});
</script>

<template>
  <div class="bar no-print">
    <div class="tools" role="toolbar" aria-label="Tools of the loops">
      <button v-for="t in LOOP_TOOLS" :key="t.tool" class="tool" :class="{ on: hand.tool === t.tool }" :aria-pressed="hand.tool === t.tool" @click="tools.choose(t.tool)">{{ t.name }} <kbd>{{ t.key }}</kbd></button>
    </div>
    <label>Show <select v-model="picture" aria-label="Picture on the floor"><option v-for="(name, key) in PICTURES" :key="key" :value="key">{{ name }}</option></select></label>
    <button class="tool line" @click="comparing = true">Compare layouts</button>
    <span v-if="locked" class="hint">{{ locked === 1 ? "One loop is" : `${locked} loops are` }} locked. <button class="plain link" @click="unlockAll">Unlock all</button></span>
    <span v-if="hand.problem" class="wrong" role="alert">{{ hand.problem }}</span>
    <span v-else class="hint">{{ hint }}</span>
  </div>
</template>

<style scoped>
.bar { position: relative; z-index: 3; border-bottom: 1px solid var(--line); padding: 4px 8px; background: var(--paper); display: flex; flex-wrap: wrap; gap: 4px 12px; align-items: center; }
.tools { display: flex; flex-wrap: wrap; gap: 2px; }
.tool { border: 1px solid transparent; background: none; border-radius: 3px; padding: 3px 7px; cursor: pointer; }
.tool:hover, .tool.line { border-color: var(--line); }
.tool.on { background: var(--ember); color: #fff; }
kbd { font: inherit; font-size: 11px; margin-left: 5px; opacity: 0.75; }
.hint { color: var(--soft); font-size: 13px; }
.wrong { color: var(--ember); font-weight: 600; }
</style>
