<script setup lang="ts">
/** A port of the rig's manifold: meter, screw, actuator, what comes back, and its room. */
import { computed, ref, watch } from "vue";
import type { LessonText, RigHand, RigNow, Units } from "../api/client";
import { show, type Quantity } from "../units";

type Port = RigNow["ports"][number];
const props = defineProps<{ port: Port; most: number; has: (tool: LessonText["tools"][number]) => boolean; units: Units; over: boolean; busy: boolean }>();
const emit = defineEmits<{ move: [hand: RigHand] }>();
const s = (q: Quantity, v: number | null | undefined) => show(q, v, props.units);
/** The hand holds the screw where it is until the rig has answered the last of it. */
const turns = ref(props.port.turns);
watch([() => props.port, () => props.busy], () => {
  if (!props.busy) turns.value = props.port.turns;
});
const scale = computed(() => 2 * Math.max(props.port.design_l_min, 0.5));
const y = (l_min: number) => 92 - 80 * Math.min(1, l_min / scale.value);
const right = computed(() => Math.abs(props.port.meter_l_min / props.port.design_l_min - 1) <= 0.1);
const warm = computed(() => props.port.room_c > props.port.wanted_c - 0.5);
</script>

<template>
  <li class="port" :aria-label="`Port ${port.port}, loop ${port.tag}, ${port.room}`">
    <b>{{ port.tag }}</b> <span class="room">{{ port.room }}</span>
    <div class="in">
      <svg width="64" height="104" viewBox="0 0 64 104" role="img" :aria-label="`Meter ${s('flow', port.meter_l_min)}, should show ${s('flow', port.design_l_min)}`">
        <rect class="glass" x="22" y="8" width="20" height="88" rx="5" />
        <line v-for="k in 4" :key="k" class="tick" x1="22" x2="28" :y1="92 - 20 * k" :y2="92 - 20 * k" />
        <path class="should" :d="`M42 ${y(port.design_l_min)}l9 -5v10z`" />
        <rect class="float" :class="{ right }" x="24" :y="y(port.meter_l_min) - 3" width="16" height="6" rx="2" />
        <g v-if="has('valves')" class="screw" :transform="`rotate(${turns * 360} 10 52)`"><circle cx="10" cy="52" r="8" /><line x1="10" y1="45" x2="10" y2="59" /></g>
      </svg>
      <ElSlider v-if="has('valves')" v-model="turns" vertical height="96px" :min="0" :max="most" :step="0.05" :disabled="over" :show-tooltip="false" :aria-label="`Screw of ${port.tag}, turns open`" :format-value-text="(v: number) => `${v.toFixed(2)} turns`" @change="emit('move', { what: 'valve', port: port.port, turns: Number($event) })" />
    </div>
    <dl>
      <dt>meter</dt><dd :class="{ wrong: !right }">{{ s("flow", port.meter_l_min) }}</dd>
      <dt>should be</dt><dd>{{ s("flow", port.design_l_min) }}</dd>
      <template v-if="has('valves')"><dt>open</dt><dd>{{ turns.toFixed(2) }} turns</dd></template>
      <dt>comes back</dt><dd>{{ port.return_c === null || port.return_c === undefined ? "stands" : s("temperature", port.return_c) }}</dd>
      <dt>floor, camera</dt><dd>{{ s("temperature", port.surface_c) }}</dd>
      <dt>room</dt><dd :class="{ wrong: !warm }">{{ s("temperature", port.room_c) }}</dd>
      <dt>thermostat</dt><dd>{{ s("temperature", port.wanted_c) }}</dd>
    </dl>
    <p v-if="port.hisses || port.gurgles" class="heard">{{ [port.hisses ? "hisses" : "", port.gurgles ? "gurgles" : ""].filter(Boolean).join(", ") }}</p>
    <div class="hands">
      <label v-if="has('actuators')"><ElSwitch :model-value="port.open" size="small" :disabled="over" :aria-label="`Actuator of ${port.tag}`" @update:model-value="emit('move', { what: 'actuator', port: port.port, open: Boolean($event) })" /> {{ port.open ? "open" : "shut" }}</label>
      <ElButton v-if="has('vent')" size="small" :disabled="over" :aria-label="`Open the vent of ${port.tag}`" @click="emit('move', { what: 'vent', port: port.port })">Vent</ElButton>
    </div>
  </li>
</template>

<style scoped>
.port { border: 1px solid var(--line); border-radius: 4px; padding: 6px 10px 8px; background: var(--sheet); }
.room { color: var(--soft); }
.in { display: flex; align-items: center; gap: 10px; margin: 4px 0; }
.glass { fill: var(--paper); stroke: var(--ink); }
.tick { stroke: var(--soft); }
.should { fill: var(--sound); }
.float { fill: var(--ember); }
.float.right { fill: var(--sound); }
.screw circle { fill: var(--paper); stroke: var(--ink); }
.screw line { stroke: var(--ink); stroke-width: 2; }
dl { display: grid; grid-template-columns: max-content 1fr; gap: 0 8px; margin: 0; font-size: 13px; }
dt { color: var(--soft); }
dd { margin: 0; text-align: right; font-variant-numeric: tabular-nums; }
.wrong { color: var(--ember); font-weight: 600; }
.heard { margin: 2px 0; font-style: italic; }
label { display: flex; gap: 6px; align-items: center; }
.hands { display: flex; gap: 8px; align-items: center; margin-top: 4px; min-height: 24px; }
</style>
