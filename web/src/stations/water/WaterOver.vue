<script setup lang="ts">
/** Over the rooms, in metres: the loops coloured by their water. */
import { store } from "../../job/store";
import PlanLoops from "../../sheet/PlanLoops.vue";

const { levelDesign: design, where } = store;
</script>

<template>
  <PlanLoops v-if="design" :design="design" :selection="where.selection" />
</template>
