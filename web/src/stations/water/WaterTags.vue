<script setup lang="ts">
/** At each loop its tag and its flow. */
import type { LoopDesign } from "../../api/client";
import { store } from "../../job/store";
import LoopLabels from "../../sheet/LoopLabels.vue";
import { dialect, show } from "../../units";

const { units } = store;
const more = (l: LoopDesign) => show("flow", l.flow_l_min, units.value);
const title = (l: LoopDesign) => `${l.tag}: ${show("temperature", l.supply_c, units.value)} to ${show("temperature", l.return_c, units.value)}, ${dialect("pressure drop", units.value)} ${show("head", l.head_loss_pa, units.value)}`;
</script>

<template>
  <LoopLabels :more="more" :title="title" />
</template>
