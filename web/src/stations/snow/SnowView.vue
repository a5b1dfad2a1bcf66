<script setup lang="ts">
/** Snow: the storm, the slab in it, the year. */
import { computed, ref } from "vue";
import { store } from "../../job/store";
import ChoiceField from "../../kit/ChoiceField.vue";
import { areaId, areas } from "./area";
import StormLoad from "./StormLoad.vue";
import StormWatch from "./StormWatch.vue";
import SnowYear from "./SnowYear.vue";

type View = "load" | "storm" | "year";
const view = ref<View>("load");
const views: { value: View; label: string }[] = [
  { value: "load", label: "What it takes" },
  { value: "storm", label: "A storm" },
  { value: "year", label: "A year" },
];
const named = computed(() => areas.value.map((r) => ({ value: r.id, text: r.name })));
</script>

<template>
  <section class="snow" aria-label="Snow">
    <ElEmpty v-if="!store.job.value?.rooms.length" :image-size="60" description="No area yet: draw the drive, ramp or forecourt at Areas." />
    <template v-else>
      <header class="bar">
        <ElSegmented v-model="view" size="small" :options="views" aria-label="View of the snow" />
        <label v-if="view !== 'load' && areas.length > 1">Area <ChoiceField v-model="areaId" :options="named" label="Area" /></label>
      </header>
      <StormLoad v-if="view === 'load'" />
      <StormWatch v-else-if="view === 'storm'" />
      <SnowYear v-else />
    </template>
  </section>
</template>

<style scoped>
.snow { height: 100%; overflow: auto; padding: 10px 14px; }
.bar { position: sticky; top: -10px; z-index: 2; padding: 4px 0; background: var(--paper); display: flex; gap: 16px; align-items: center; flex-wrap: wrap; margin-bottom: 10px; }
</style>
