<script setup lang="ts">
/** A window, a door, a sleeve. */
import { computed } from "vue";
import * as edit from "../job/edit";
import { construction } from "../job/constructions";
import { store } from "../job/store";
import ChoiceField from "../kit/ChoiceField.vue";
import ConstructionField from "../kit/ConstructionField.vue";
import JobField from "../kit/JobField.vue";
import { show } from "../units";
import { OPENINGS } from "../words";
import { useHeld } from "./chosen";

const { job, units } = store;
const { room, thing: opening, at, set } = useHeld("openings", "opening");
const start = computed(() => {
  const wall = room.value && opening.value && edit.walls(room.value)[opening.value.edge];
  return wall ? edit.startName(wall, job.value?.site.north_deg) : "";
});
const glazed = computed(() => ["window", "roof_window", "outside_door"].includes(opening.value?.kind ?? ""));
</script>

<template>
  <template v-if="opening && room">
    <h2>{{ OPENINGS[opening.kind] }}, {{ room.name }}</h2>
    <dl class="facts">
      <dt>Kind</dt><dd><ChoiceField :model-value="opening.kind" :options="OPENINGS" label="Kind of opening" @update:model-value="set({ kind: $event })" /></dd>
      <dt>Width</dt><dd><JobField :path="`${at}.width_m`" label="Opening width" /></dd>
      <dt>Height</dt><dd><JobField :path="`${at}.height_m`" label="Opening height" /></dd>
      <template v-if="opening.kind !== 'roof_window'"><dt>Sill over the floor</dt><dd><JobField :path="`${at}.sill_m`" label="Sill height" /></dd></template>
      <dt>From the {{ start }} corner</dt><dd><JobField :path="`${at}.offset_m`" label="Distance from the corner" /></dd>
      <template v-if="glazed">
        <dt>Construction</dt><dd><ConstructionField :model-value="opening.construction_id" :positions="opening.kind === 'outside_door' ? ['door', 'window'] : ['window']" label="Construction of this opening" empty="as the site" @update:model-value="set({ construction_id: $event })" /></dd>
        <dt>U of this one</dt><dd><JobField :path="`${at}.u`" label="U of this opening" :empty="opening.construction_id ? 'by its kind' : 'as the site'" /></dd>
        <dt>Sun let in (g)</dt><dd><JobField :path="`${at}.g`" label="g-value of this opening" hint="Share of the sun's heat that the glass lets in" :empty="show('share', construction(opening.construction_id ?? job?.envelope.window_id)?.g, units)" /></dd>
      </template>
    </dl>
  </template>
</template>
