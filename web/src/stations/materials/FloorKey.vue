<script setup lang="ts">
/** What the signs on the plan mean. */
import { computed } from "vue";
import { useMaterials } from "./counted";

const { answer: counted } = useMaterials();
const has = computed(() => ({ panels: !!counted.value?.panels.length, plates: !!counted.value?.plates.length, holes: !!counted.value?.joists.length, cuts: !!counted.value?.saw_cuts.length }));
</script>

<template>
  <div v-if="has.panels || has.plates || has.holes || has.cuts" class="legend">
    <template v-if="has.panels"><i class="k"></i> panel <i class="k return"></i> return panel <i class="k plain"></i> plain board; dashed: cut</template>
    <template v-if="has.plates"><i class="k plate"></i> plate <i class="k plate cut"></i> cut</template>
    <template v-if="has.holes"><i class="k hole"></i> hole in a joist</template>
    <template v-if="has.cuts"><i class="k hole saw"></i> sleeve under a saw cut</template>
  </div>
</template>

<style scoped>
.legend { gap: 4px 8px; }
.legend .k { width: 18px; height: 10px; border: 1px solid var(--ink); }
.legend .k.return { background: color-mix(in srgb, var(--ember) 14%, transparent); }
.legend .k.plain { background: var(--faint); }
.legend .k.plate { border: 0; background: color-mix(in srgb, var(--ink) 28%, transparent); }
.legend .k.plate.cut { background: color-mix(in srgb, var(--ember) 45%, transparent); }
.legend .k.hole { width: 10px; border-radius: 50%; }
.legend .k.saw { border-width: 2px; }
</style>
