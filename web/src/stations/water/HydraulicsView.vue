<script setup lang="ts">
/**
 * A circuit's hydraulics: what each port takes of pressure, the pump on its curve, the rooms that result; with switches that
 * shut zones, take the valves away or block a loop.
 */
import { line } from "d3-shape";
import { computed } from "vue";
import type { PumpChoice } from "../../api/client";
import { circuitsOf } from "../../job/circuits";
import { feedOf } from "../../job/plant";
import { store } from "../../job/store";
import ChartFrame from "../../kit/ChartFrame.vue";
import CheckField from "../../kit/CheckField.vue";
import ChoiceField from "../../kit/ChoiceField.vue";
import type { Column } from "../../kit/table";
import { CONTROLS } from "../../words";
import { figure, show, type Quantity } from "../../units";
import { settingText } from "./valve";
import { asDesigned, circuit, circuits, isTried, partsOf, shut, tried, useWaterTrial } from "./trial";
import { choices } from "../../products/products";

const { job, units, where } = store;
const { state, trouble, old } = useWaterTrial();
const s = (q: Quantity, v: number | null | undefined) => show(q, v, units.value);
const roomName = (id: string) => job.value?.rooms.find((r) => r.id === id)?.name ?? "";
const most = computed(() => Math.max(1, ...(state.value?.ports ?? []).map((p) => (p.shut ? 0 : p.tube_pa + p.leaders_pa + p.port_pa + p.valve_pa))));
const loops = computed(() => (state.value?.ports ?? []).filter((p) => !p.id.startsWith("f/")));
const OPEN = [0.5, 0.3, 0.2, 0.1, 0.05].map((v) => ({ value: v, text: `${v * 100}% open` }));
const block = (loop: string | undefined) => (tried.blocked = loop ? { loop, open: tried.blocked?.open ?? 0.2 } : null);

const feed = computed(() => job.value?.circuits?.find((c) => c.id === circuit.value?.id)?.feed);
const pumps = computed(() => choices("pumps"));
/** A job that names no circuit gets one: what is chosen needs a place. */
const setPump = (set: PumpChoice) =>
  store.edit("choose the pump", (j) => {
    const of = feedOf(j, circuitsOf(j).find((c) => c.id === circuit.value?.id)?.id ?? j.circuits![0]!.id);
    of.pump = { ...of.pump, ...set };
  });

type At = { flow_l_min: number; head_pa: number };
const pump = computed(() => state.value?.pump);
const end = computed(() => ({ flow: Math.max(1, ...(pump.value?.curve ?? []).map((p) => p.flow_l_min)), head: 1.08 * Math.max(1000, ...(pump.value?.curve ?? []).map((p) => p.head_pa)) }));
const system = computed(() => (pump.value?.system ?? []).filter((p) => p.head_pa <= end.value.head));
const columns: Column<At>[] = [
  { key: "flow", head: "Flow", value: (p) => p.flow_l_min, quantity: "flow" },
  { key: "head", head: "Pump, full speed", value: (p) => p.head_pa, quantity: "head" },
];
const path = (points: At[], x: (v: number) => number, y: (v: number) => number) => line<At>().x((p) => x(p.flow_l_min)).y((p) => y(p.head_pa))(points) ?? "";
const warmer = (r: { room_c: number; set_c: number }) => r.room_c - r.set_c;
const zones = computed(() => [...new Set(loops.value.flatMap((p) => p.room_ids))].map((id) => ({ id, name: roomName(id), loops: loops.value.filter((p) => p.room_ids.includes(id)) })));
const shutRoom = (of: { loops: { id: string }[] }, closed: boolean) => of.loops.forEach((l) => shut(l.id, closed));
</script>

<template>
  <div class="hydraulics">
    <header class="try" role="group" aria-label="What is tried">
      <label v-if="circuits.length > 1">Circuit <ChoiceField :model-value="circuit?.id" :options="circuits.map((c) => ({ value: c.id, text: c.name }))" label="Circuit looked at" @update:model-value="tried.circuit = $event" /></label>
      <label>Pump <ChoiceField :model-value="feed?.pump?.model_id" :options="pumps" label="Pump of the circuit" :empty="pump ? pump.name : 'the smallest that serves'" @update:model-value="setPump({ model_id: $event })" /></label>
      <label>run at <ChoiceField :model-value="feed?.pump?.control ?? 'constant_pressure'" :options="CONTROLS" label="How the pump is run" @update:model-value="setPump({ control: $event as PumpChoice['control'] })" /></label>
      <CheckField v-model="tried.withoutValves" label="Without balancing valves">Without balancing valves</CheckField>
      <label>Half blocked <ChoiceField :model-value="tried.blocked?.loop" :options="loops.map((p) => ({ value: p.id, text: p.tag }))" label="Loop that is half blocked" empty="none" @update:model-value="block" /></label>
      <ChoiceField v-if="tried.blocked" :model-value="tried.blocked.open" :options="OPEN" label="Share of the bore that is open" @update:model-value="tried.blocked.open = Number($event)" />
      <ElButton v-if="isTried" size="small" @click="asDesigned">As designed</ElButton>
    </header>
    <p v-if="trouble" class="trouble" role="alert">Not calculated: {{ trouble }}</p>
    <p v-if="!circuit" class="quiet">No loops carry water yet.</p>
    <div v-else-if="state" class="body" :class="{ old }">
      <section class="ports" aria-label="Ports">
        <h3>What each port takes</h3>
        <ol>
          <li v-for="p in state.ports" :key="p.id" :class="{ shut: p.shut, chosen: where.selection?.id === p.id }">
            <ElSwitch v-if="!p.id.startsWith('f/')" size="small" :model-value="!p.shut" :aria-label="`${p.tag} open`" @update:model-value="shut(p.id, !$event)" /><span v-else></span>
            <ElButton link type="primary" :title="p.room_ids.map(roomName).join(', ')" @click="store.select({ kind: 'loop', id: p.id })">{{ p.tag }}</ElButton>
            <span class="bar" role="img" :aria-label="partsOf(p).map((x) => `${x.name} ${s('head', x.pa)}`).join(', ')"><i v-for="x in partsOf(p)" v-show="!p.shut" :key="x.key" :class="x.key" :style="{ width: `${(100 * x.pa) / most}%` }"></i></span>
            <span class="figures">{{ p.shut ? "shut" : s("flow", p.flow_l_min) }}</span>
            <span class="figures" :class="{ off: Math.abs(p.flow_l_min / p.design_flow_l_min - 1) > 0.1 }">{{ s("share", p.flow_l_min / p.design_flow_l_min) }}</span>
            <span class="setting">{{ p.index ? "index loop" : settingText(p.valve, units) }}</span>
          </li>
        </ol>
        <p class="quiet keys"><i class="tube"></i> loop <i class="leaders"></i> leaders <i class="port"></i> port, fittings <i class="valve"></i> balancing valve; flow, share of the design's, setting</p>
      </section>
      <section>
        <ChartFrame
          v-if="pump" question="Where does the pump work?" :width="360" :height="200" :columns="columns" :rows="pump.curve"
          :label="`Pump and system curve: ${s('flow', pump.flow_l_min)} at ${s('head', pump.head_pa)}`" :x="{ quantity: 'flow', from: 0, to: end.flow, name: 'flow' }" :y="{ quantity: 'head', from: 0, to: end.head, name: 'head' }">
          <template #default="{ x, y }">
            <path class="pump" :d="path(pump.curve, x, y)" /><path class="system" :d="path(system, x, y)" />
            <circle class="needs" :cx="x(pump.design_flow_l_min)" :cy="y(pump.design_head_pa)" r="5" /><circle class="at" :cx="x(pump.flow_l_min)" :cy="y(pump.head_pa)" r="4" />
          </template>
          <template #key><i class="k pump"></i> {{ pump.name }}, full speed <i class="k system"></i> piping ● works at {{ s("flow", pump.flow_l_min) }}, {{ s("head", pump.head_pa) }} ○ design</template>
        </ChartFrame>
        <table class="grid-table controls" aria-label="Ways to run the pump">
          <thead><tr><th>Run at</th><th class="num">Flow</th><th class="num">Head</th><th class="num">Power</th><th class="num">Fastest</th><th class="num">At a port</th></tr></thead>
          <tbody>
            <tr v-for="c in state.controls" :key="c.control" :class="{ chosen: c.control === pump?.control }">
              <td>{{ CONTROLS[c.control] }}</td>
              <td v-if="c.refused" colspan="5">{{ c.refused }}</td>
              <template v-else><td class="num">{{ s("flow", c.flow_l_min) }}</td><td class="num">{{ s("head", c.head_pa) }}</td><td class="num">{{ s("power", c.electric_w) }}</td><td class="num">{{ s("velocity", c.fastest_m_s) }}</td><td class="num">{{ s("head", c.port_pa) }}</td></template>
            </tr>
          </tbody>
        </table>
        <p v-if="state.bypass" class="bypass">
          A pump at one speed wants a differential bypass where zones shut: it opens at {{ s("head", state.bypass.opens_pa) }} and carries {{ s("flow", state.bypass.flow_l_min) }} when only the smallest loop is open, {{ units === "us" ? "Cv" : "Kv" }} {{ figure("kv", state.bypass.kv_m3_h, units) }}.
        </p>
        <ul v-if="state.notes.length"><li v-for="n in state.notes" :key="n">{{ n }}</li></ul>
      </section>
      <section :aria-label="store.job.value?.outdoors ? 'Areas' : 'Rooms'">
        <h3>{{ store.job.value?.outdoors ? "Areas" : "Rooms, with no thermostat at work" }}</h3>
        <table class="grid-table">
          <thead><tr><th>{{ store.job.value?.outdoors ? "Area" : "Room" }}</th><th>Zone open</th><template v-if="!store.job.value?.outdoors"><th class="num">Settles at</th><th class="num">Should be</th></template><th class="num">Heat</th></tr></thead>
          <tbody>
            <tr v-for="r in state.rooms" :key="r.id">
              <td>{{ roomName(r.id) }}</td>
              <td><ElSwitch v-for="z in zones.filter((x) => x.id === r.id)" :key="z.id" size="small" :model-value="z.loops.some((l) => !l.shut)" :aria-label="`Zone of ${z.name} open`" @update:model-value="shutRoom(z, !$event)" /></td>
              <template v-if="!store.job.value?.outdoors"><td class="num" :class="{ cold: warmer(r) < -0.5, warm: warmer(r) > 1 }">{{ s("temperature", r.room_c) }}</td><td class="num">{{ s("temperature", r.set_c) }}</td></template><td class="num">{{ s("heat", r.heat_w) }}</td>
            </tr>
          </tbody>
        </table>
      </section>
    </div>
    <p v-else-if="!trouble" class="quiet">Calculating…</p>
  </div>
</template>

<style scoped>
.hydraulics { padding: 4px 0; }
.try { display: flex; gap: 6px 16px; align-items: center; flex-wrap: wrap; }
.try label { display: flex; gap: 6px; align-items: center; }
.try .choice { width: 128px; }
.body { display: grid; grid-template-columns: minmax(0, 1fr) minmax(0, 1.05fr); gap: 8px 18px; align-items: start; }
@media (max-width: 900px) { .body { grid-template-columns: minmax(0, 1fr); } }
h3 { margin: 6px 0 4px; }
ol { list-style: none; margin: 0; padding: 0; }
li { display: grid; grid-template-columns: 34px 34px minmax(60px, 1fr) 72px 42px 66px; gap: 6px; align-items: center; padding: 1px 0; font-size: 13px; }
ul { padding-left: 18px; }
ul li { display: list-item; }
li.shut { color: var(--soft); }
li.chosen { background: var(--ember-soft); }
.bar { display: flex; height: 13px; background: var(--faint); border-radius: 2px; overflow: hidden; }
.bar i, .keys i { display: block; height: 100%; }
.keys i { display: inline-block; width: 11px; height: 11px; margin-left: 6px; vertical-align: -1px; }
.tube { background: var(--ember); }
.leaders { background: #c9a27c; }
.port { background: var(--soft); }
.valve { background: repeating-linear-gradient(45deg, var(--ink) 0 1.5px, var(--paper) 1.5px 4px); }
.figures { text-align: right; }
.figures.off { color: var(--ember); font-weight: 650; }
.setting { color: var(--soft); }
.pump { stroke: var(--ink); stroke-width: 1.8; fill: none; }
.system { stroke: var(--ember); stroke-width: 1.8; fill: none; }
.needs { fill: none; stroke: var(--ink); }
.at { fill: var(--ember); }
.k { display: inline-block; width: 16px; height: 0; border-top: 2px solid var(--ink); vertical-align: middle; margin-left: 6px; }
.k.system { border-color: var(--ember); }
.controls { margin-top: 6px; width: 100%; font-size: 12px; }
.controls th, .controls td { padding-left: 3px; padding-right: 3px; }
.controls td.num { white-space: nowrap; }
.chosen td { font-weight: 650; }
.cold { color: #38639c; font-weight: 650; }
.warm { color: var(--ember); font-weight: 650; }
.quiet { color: var(--soft); }
.trouble { color: var(--ember); }
</style>
