<script setup lang="ts">
/** The plant: its piping at work, its parts, its year, its arrangements side by side. */
import { computed, ref } from "vue";
import { beginPlant } from "../../job/plant";
import { store } from "../../job/store";
import { ARRANGEMENTS } from "../../words";
import { show } from "../../units";
import CheckField from "../../kit/CheckField.vue";
import ChoiceField from "../../kit/ChoiceField.vue";
import CompareArrangements from "./CompareArrangements.vue";
import PipingDiagram from "./PipingDiagram.vue";
import PlantParts from "./PlantParts.vue";
import PlantYearView from "./PlantYear.vue";
import SourceFit from "./SourceFit.vue";
import { asDesigned, isTried, tried, usePlantState } from "./trial";

const { job, design, units } = store;
const { state, trouble, old } = usePlantState();
type View = "piping" | "parts" | "source" | "year" | "compare";
const view = ref<View>("piping");
const views: { value: View; label: string }[] = [
  { value: "piping", label: "Piping" },
  { value: "parts", label: "Source and users" },
  { value: "source", label: "Does it fit?" },
  // what melts snow follows no house's weather
  ...(job.value?.outdoors ? [] : [{ value: "year" as View, label: "Over the year" }]),
  { value: "compare", label: "Compare" },
];
const begin = () => store.edit("begin a plant", (j) => beginPlant(j, design.value!.plant_to_begin!));
const coldest = computed(() => job.value?.site.outdoor_c ?? -10);
const outdoor = computed({ get: () => tried.outdoor ?? coldest.value, set: (v: number) => (tried.outdoor = v <= coldest.value + 0.01 ? null : v) });
const hasTank = computed(() => job.value?.plant?.users?.some((u) => u.takes.kind === "tank") ?? false);
const arrange = (to: string) => store.edit("choose the arrangement", (j) => (j.plant!.arrangement = to as keyof typeof ARRANGEMENTS));
const source = computed(() => state.value?.sources[0]);
</script>

<template>
  <section class="plant" aria-label="Plant">
    <div v-if="!job?.plant" class="none">
      <ElEmpty :image-size="60" :description="design && !design.plant_to_begin ? 'No load yet: draw rooms at Rooms.' : 'No plant yet.'">
        <template v-if="design?.plant_to_begin">
          <p>Begin with a source for {{ show("heat", design.totals.source_w, units) }}<template v-if="design.plant_to_begin.users?.length">, the radiators of the survey</template> and every circuit; change whatever is different.</p>
          <ElButton type="primary" @click="begin">Begin a plant</ElButton>
        </template>
      </ElEmpty>
    </div>
    <template v-else>
      <header class="bar">
        <ElSegmented v-model="view" size="small" :options="views" aria-label="View of the plant" />
        <label v-if="view === 'piping'">Arrangement <ChoiceField :model-value="job.plant.arrangement" :options="ARRANGEMENTS" label="Arrangement" @update:model-value="arrange($event)" /></label>
      </header>
      <template v-if="view === 'piping'">
        <div v-if="!job.outdoors" class="weather">
          <span>Outdoors <b>{{ show("temperature", outdoor, units) }}</b></span>
          <ElSlider v-model="outdoor" :min="coldest" :max="20" :step="0.5" :show-tooltip="false" aria-label="Outdoor temperature" />
          <CheckField v-if="hasTank" v-model="tried.charging" label="Tank being heated">Tank being heated</CheckField>
          <ElButton v-if="isTried" size="small" @click="asDesigned()">Back to the design day</ElButton>
          <span v-if="source" class="sum">Source {{ show("temperature", source.leaves_c, units) }} / {{ show("temperature", source.returns_c, units) }}, {{ show("heat", source.heat_w, units) }}</span>
        </div>
        <p v-if="trouble" class="trouble" role="alert">The plant is not calculated: {{ trouble }}</p>
        <PipingDiagram v-if="state" :state="state" :class="{ old }" />
        <ul v-if="state?.notes.length" class="notes" aria-label="What the piping does"><li v-for="n in state.notes" :key="n">{{ n }}</li></ul>
      </template>
      <PlantParts v-else-if="view === 'parts'" />
      <SourceFit v-else-if="view === 'source'" />
      <PlantYearView v-else-if="view === 'year'" />
      <CompareArrangements v-else />
    </template>
  </section>
</template>

<style scoped>
.plant { display: flex; flex-direction: column; min-height: 0; min-width: 0; background: var(--sheet); overflow: auto; }
.bar { position: sticky; top: 0; z-index: 2; background: var(--sheet); display: flex; gap: 6px 14px; align-items: center; flex-wrap: wrap; padding: 5px 10px; border-bottom: 1px solid var(--faint); }
.bar label { display: flex; align-items: center; gap: 6px; margin-left: auto; }
.bar .choice { width: 200px; }
.weather { display: flex; gap: 6px 16px; align-items: center; flex-wrap: wrap; padding: 2px 14px; }
.weather .el-slider { flex: 1; min-width: 130px; max-width: 260px; margin: 0 6px; }
.weather b { display: inline-block; min-width: 58px; }
.sum { margin-left: auto; font-weight: 600; }
.none { padding: 20px; text-align: center; }
.none p { max-width: 460px; margin: 0 auto 10px; }
.trouble { color: var(--ember); margin: 0; padding: 4px 14px; }
.notes { margin: 0; padding: 0 14px 6px 30px; }
</style>
