<script setup lang="ts">
/** Bar of the loops' sheet: tools, which picture lies on the floor, layouts compared. */
import { computed } from "vue";
import { kept } from "../../job/loops";
import { store } from "../../job/store";
import ChoiceField from "../../kit/ChoiceField.vue";
import { useSheet } from "../../sheet/context";
import ToolBar from "../../sheet/ToolBar.vue";
import { useStationView } from "../view";
import { release } from "./release";
import type { LoopTools } from "./tools";

const { box } = useSheet<LoopTools>();
const { show } = useStationView();
const PICTURES = { none: "Water in the loops", distance: "Is tube within reach?", surface: "Where does the floor get warm?" } as const;
const locked = computed(() => (store.job.value ? kept(store.job.value).length : 0));
const unlockAll = () => release(kept(store.job.value!).map((l) => l.id), "unlock all loops");
</script>

<template>
  <ToolBar label="Tools of the loops">
    <label class="show">Show <ChoiceField v-model="box.hand.picture" :options="PICTURES" label="Picture on the floor" /></label>
    <ElButton @click="show('compare')">Compare layouts</ElButton>
    <template #stack>
      <p v-if="locked" class="float locked">{{ locked === 1 ? "One loop is" : `${locked} loops are` }} locked: they stay as they lie. <ElButton link type="primary" @click="unlockAll">Unlock all</ElButton></p>
    </template>
  </ToolBar>
</template>

<style scoped>
.show { display: flex; align-items: center; gap: 6px; white-space: nowrap; }
.show > :last-child { width: 230px; }
.locked { color: var(--soft); }
</style>
