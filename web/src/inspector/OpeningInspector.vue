<script setup lang="ts">
/** A window, a door, a sleeve. */
import { computed } from "vue";
import * as edit from "../job/edit";
import { construction } from "../job/constructions";
import { store } from "../job/store";
import ChoiceField from "../kit/ChoiceField.vue";
import ConstructionField from "../kit/ConstructionField.vue";
import QuantityField from "../kit/QuantityField.vue";
import { show } from "../units";
import { OPENINGS } from "../words";
import { useHeld } from "./chosen";

const { job, units } = store;
const { room, thing: opening, set } = useHeld("openings", "opening");
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
      <dt>Width</dt><dd><QuantityField :model-value="opening.width_m" quantity="length" label="Opening width" :min="0.05" :max="50" @update:model-value="set({ width_m: $event! })" /></dd>
      <dt>Height</dt><dd><QuantityField :model-value="opening.height_m" quantity="length" label="Opening height" :min="0.02" :max="20" @update:model-value="set({ height_m: $event! })" /></dd>
      <template v-if="opening.kind !== 'roof_window'"><dt>Sill over the floor</dt><dd><QuantityField :model-value="opening.sill_m ?? 0" quantity="length" label="Sill height" :min="0" :max="20" @update:model-value="set({ sill_m: $event! })" /></dd></template>
      <dt>From the {{ start }} corner</dt><dd><QuantityField :model-value="opening.offset_m" quantity="length" label="Distance from the corner" :min="0" :max="200" @update:model-value="set({ offset_m: $event! })" /></dd>
      <template v-if="glazed">
        <dt>Construction</dt><dd><ConstructionField :model-value="opening.construction_id" :positions="opening.kind === 'outside_door' ? ['door', 'window'] : ['window']" label="Construction of this opening" empty="as the site" @update:model-value="set({ construction_id: $event })" /></dd>
        <dt>U of this one</dt><dd><QuantityField :model-value="opening.u" quantity="transmittance" label="U of this opening" :min="0.05" :max="8" :empty="opening.construction_id ? 'by its kind' : 'as the site'" @update:model-value="set({ u: $event })" /></dd>
        <dt>Sun let in (g)</dt><dd><QuantityField :model-value="opening.g" quantity="share" label="g-value of this opening" hint="Share of the sun's heat that the glass lets in" :min="0" :max="1" :empty="show('share', construction(opening.construction_id ?? job?.envelope.window_id)?.g, units)" @update:model-value="set({ g: $event })" /></dd>
      </template>
    </dl>
  </template>
</template>
