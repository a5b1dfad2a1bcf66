<script setup lang="ts">
/** At each loop its tag; its length too where there is room for it. */
import type { LoopDesign } from "../../api/client";
import { store } from "../../job/store";
import { useSheet } from "../../sheet/context";
import LoopLabels from "../../sheet/LoopLabels.vue";
import { show } from "../../units";

/** From this zoom on, pixels to the metre, tags tell the length. */
const LONG_TAGS = 42;
const { view: v } = useSheet();
const { units } = store;
const more = (l: LoopDesign) => (v.view.scale > LONG_TAGS ? show("tube", l.length_m, units.value) : "");
const title = (l: LoopDesign) =>
  `${l.tag}: ${show("tube", l.length_m, units.value)}, ${show("share", l.length_m / l.limit_m, units.value)} of the limit, leaders ${show("tube", l.leader_length_m, units.value)}, ${show("temperature", l.supply_c, units.value)} to ${show("temperature", l.return_c, units.value)}${l.by_hand ? ", by hand" : l.locked ? ", locked" : ""}`;
</script>

<template>
  <LoopLabels :more="more" :title="title" />
</template>
