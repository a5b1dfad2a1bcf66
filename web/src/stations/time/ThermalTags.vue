<script setup lang="ts">
/** At each loop its tag and what comes back in it. */
import type { LoopDesign } from "../../api/client";
import { store } from "../../job/store";
import LoopLabels from "../../sheet/LoopLabels.vue";
import { show } from "../../units";
import { useThermal } from "./thermal";

const { frame } = useThermal();
const of = (l: LoopDesign) => frame.value?.loops.find((x) => x.id === l.id);
const back = (l: LoopDesign) => {
  const now = of(l);
  return !now ? "" : now.return_c === null || now.return_c === undefined ? "stands" : show("temperature", now.return_c, store.units.value);
};
const title = (l: LoopDesign) => `${l.tag}: ${of(l)?.return_c === null ? "its water stands" : `water comes back at ${back(l)}, gives ${show("heat", of(l)?.heat_w, store.units.value)}`}`;
</script>

<template>
  <LoopLabels :more="back" :title="title" />
</template>
