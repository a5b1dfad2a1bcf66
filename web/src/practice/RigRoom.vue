<script setup lang="ts">
/** The plant room of the rig: source, mixing valve, pump, controller, bypass. */
import { computed, ref, watch } from "vue";
import type { LessonText, RigHand, RigNow, Units } from "../api/client";
import ChoiceField from "../kit/ChoiceField.vue";
import { show, type Quantity } from "../units";
import { CONTROLS } from "../words";

const props = defineProps<{ now: RigNow; has: (tool: LessonText["tools"][number]) => boolean; units: Units; over: boolean; busy: boolean }>();
const emit = defineEmits<{ move: [hand: RigHand] }>();
const s = (q: Quantity, v: number | null | undefined) => show(q, v, props.units);
const HEAD_PA = 9806.65;
const head = ref(props.now.pump.set_m);
const line = ref(props.now.line_k);
const bypass = ref(props.now.bypass);
// what hands have moved stays until the rig has answered the last of it
watch([() => props.now, () => props.busy], () => {
  if (!props.busy) [head.value, line.value, bypass.value] = [props.now.pump.set_m, props.now.line_k, props.now.bypass];
});
const controls = computed(() => Object.fromEntries(Object.entries(CONTROLS).filter(([k]) => k !== "constant_difference")));
</script>

<template>
  <div class="room">
    <section aria-label="Source">
      <h3>Source</h3>
      <p class="big" :class="{ wrong: now.tripped }">{{ now.tripped ? "shut down" : s("temperature", now.source_c) }}</p>
      <p v-if="now.least_flow_l_min">Least flow {{ s("flow", now.least_flow_l_min) }}</p>
      <p v-if="now.fluid_c !== null && now.fluid_c !== undefined">Mix {{ s("temperature", now.fluid_c) }}</p>
      <label v-if="has('bypass')">Bypass <ElSlider v-model="bypass" :min="0" :max="1" :step="0.05" :disabled="over" :show-tooltip="false" aria-label="Bypass, share open" :format-value-text="(v: number) => s('share', v)" @change="emit('move', { what: 'bypass', open: Number($event) })" /> {{ s("share", bypass) }}</label>
    </section>
    <section aria-label="Controller">
      <h3>Controller</h3>
      <p>Outdoors {{ s("temperature", now.outdoor_c) }}</p>
      <p class="big">asks for {{ s("temperature", now.asked_c) }}</p>
      <label v-if="has('line')">Line <ElSlider v-model="line" :min="-15" :max="15" :step="0.5" :disabled="over" :show-tooltip="false" aria-label="Reset line, moved by" :format-value-text="(v: number) => s('difference', v)" @change="emit('move', { what: 'line', by_k: Number($event) })" /> {{ line > 0 ? "+" : "" }}{{ s("difference", line) }}</label>
    </section>
    <section aria-label="Mixing valve">
      <h3>Behind the mixing valve</h3>
      <p class="big">{{ now.mixed_c === null || now.mixed_c === undefined ? "stands" : s("temperature", now.mixed_c) }}</p>
      <ElButton v-if="has('mixer')" size="small" :disabled="over" @click="emit('move', { what: 'mixer' })">Turn its knob from end to end</ElButton>
    </section>
    <section aria-label="Pump">
      <h3>Pump</h3>
      <p class="big">{{ s("head", now.pump.shows[0]! * HEAD_PA) }}, {{ s("flow", now.pump.shows[1]) }}</p>
      <label v-if="has('pump_control')">Keeps <ChoiceField :model-value="now.pump.control" :options="controls" label="What the pump keeps" :disabled="over" @update:model-value="emit('move', { what: 'pump_control', control: $event as never })" /></label>
      <label v-if="has('pump_head')">Set to <ElSlider v-model="head" :min="0.2" :max="8" :step="0.05" :disabled="over" :show-tooltip="false" aria-label="Head of the pump" :format-value-text="(v: number) => s('head', v * HEAD_PA)" @change="emit('move', { what: 'pump_head', head_m: Number($event) })" /> {{ s("head", head * HEAD_PA) }}</label>
    </section>
    <section aria-label="Bars of the manifold">
      <h3>Bars</h3>
      <p>supply {{ now.bars_c[0] === null || now.bars_c[0] === undefined ? "stands" : s("temperature", now.bars_c[0]) }}</p>
      <p>return {{ now.bars_c[1] === null || now.bars_c[1] === undefined ? "stands" : s("temperature", now.bars_c[1]) }}</p>
      <ElButton v-if="has('tails')" size="small" :disabled="over" @click="emit('move', { what: 'tails' })">Exchange supply and return</ElButton>
    </section>
  </div>
</template>

<style scoped>
.room { display: grid; grid-template-columns: repeat(auto-fit, minmax(200px, 1fr)); gap: 8px; }
section { border: 1px solid var(--line); border-radius: 4px; padding: 6px 12px; background: var(--sheet); }
h3 { margin: 0; font-size: 14px; }
p { margin: 2px 0; }
.big { font-size: 17px; font-weight: 650; font-variant-numeric: tabular-nums; }
.wrong { color: var(--ember); }
label { display: grid; grid-template-columns: auto 1fr auto; align-items: center; gap: 12px; }
</style>
