<script setup lang="ts">
/** What the colours are, and what the floor has where the pointer is. */
import { computed } from "vue";
import { store } from "../../job/store";
import { useSheet } from "../../sheet/context";
import Legend from "../../sheet/Legend.vue";
import { placeOf, useProbe } from "../../sheet/probe";
import { colours } from "../../sheet/ramp";
import { show } from "../../units";
import { useThermal } from "./thermal";

const { view } = useSheet();
const { picture, values, range } = useThermal();
const probe = useProbe(view);
const t = (c: number) => show("temperature", c, store.units.value);
const here = computed(() => {
  const place = picture.value && placeOf(picture.value.raster, probe.value);
  const v = place === null ? undefined : values.value?.[place];
  return v === undefined || Number.isNaN(v) ? "" : t(v);
});
</script>

<template>
  <Legend v-if="picture" label="Surface of the floor" :low="t(range[0])" :high="`${t(range[1])} surface of the floor`" :colours="colours('surface')"><b v-if="here" class="here">here {{ here }}</b></Legend>
</template>

<style scoped>
.here { min-width: 88px; }
</style>
