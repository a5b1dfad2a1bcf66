<script setup lang="ts">
/** What the lines on the plan mean. */
import { LAY_STEPS } from "../../words";
</script>

<template>
  <div class="legend">
    <template v-for="(text, step) in LAY_STEPS" :key="step"><i class="k" :class="step"></i> {{ text }}</template>
    <b aria-hidden="true">⊗</b> kink, cut or repair
    <i class="note"></i> note, with where its photo looks
  </div>
</template>

<style scoped>
.legend { gap: 4px 8px; }
.k { width: 24px; height: 0; border-top: 3px solid var(--sound); }
.k.not_started { border-top: 2px dotted var(--off); }
.k.on_floor { border-top: 3px dashed var(--warn); }
.k.fixed { border-top-width: 2px; }
.note { width: 9px; height: 9px; border: 2px solid var(--glass); background: var(--sheet); }
b { color: var(--ember); }
</style>
