<script setup lang="ts">
/** Over the plan of the floors: the way back to the section. */
import { useStationView } from "../view";

const { show } = useStationView();
</script>

<template>
  <div class="bar no-print"><ElButton size="small" @click="show()">Back to the section</ElButton></div>
</template>

<style scoped>
.bar { padding: 5px 8px; border-bottom: 1px solid var(--line); background: var(--paper); }
</style>
