<script setup lang="ts">
/** The figures of one circuit at its port: its flow as a meter, what it heats, its length, its return, its valve. */
import type { ValveSetting } from "../../api/client";
import { store } from "../../job/store";
import { show } from "../../units";
import { valveText } from "./valve";

defineProps<{ name: string; flow: number; /** Fills the meter, L/min. */ most: number; length: number; return: number | null | undefined; colour: string; valve: { balancing_pa: number; valve?: ValveSetting | null } }>();
const { units } = store;
const METER_PX = 58;
</script>

<template>
  <span class="meter" role="img" :aria-label="`Flow ${show('flow', flow, units)}`"><i :style="{ height: `${(flow / most) * METER_PX}px` }"></i></span>
  <b>{{ show("flow", flow, units) }}</b>
  <span class="name" :title="name">{{ name }}</span>
  <span>{{ show("tube", length, units) }}</span>
  <span title="Return"><i class="dot" :style="{ background: colour }"></i> {{ show("temperature", $props.return, units) }}</span>
  <span class="valve" title="What the balancing valve closes, and its setting">{{ valveText(valve, units) }}</span>
</template>

<style scoped>
.meter { width: 12px; height: 60px; border: 1px solid var(--ink); border-radius: 3px; display: flex; align-items: flex-end; background: var(--paper); }
.meter i { display: block; width: 100%; background: var(--supply); }
.name { max-width: 100%; overflow: hidden; text-overflow: ellipsis; white-space: nowrap; color: var(--soft); }
.dot { display: inline-block; width: 9px; height: 9px; border-radius: 50%; }
.valve { color: var(--soft); }
</style>
