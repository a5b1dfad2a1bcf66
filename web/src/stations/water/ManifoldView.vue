<script setup lang="ts">
/** Each manifold as the fitter sees it: port by port, what flows, how warm it comes and goes, how far its valve closes. */
import { computed, ref } from "vue";
import type { CircuitDesign, LoopDesign, ManifoldDesign, ValveSetting } from "../../api/client";
import { addCircuit, putOn, removeCircuit } from "../../job/circuits";
import { pathOf } from "../../job/paths";
import { store } from "../../job/store";
import ChoiceField from "../../kit/ChoiceField.vue";
import JobField from "../../kit/JobField.vue";
import TextField from "../../kit/TextField.vue";
import { fieldRows } from "../../job/fields";
import ManifoldPlaces from "../loops/ManifoldPlaces.vue";
import { onScreen, waterColour, waterRange } from "../../sheet/water";
import { dialect, show } from "../../units";
import { PLAN, useStationView } from "../view";
import HydraulicsView from "./HydraulicsView.vue";
import PortFigures from "./PortFigures.vue";

const { job, design, where, units } = store;
const { show: showView } = useStationView();
const view = ref<"manifolds" | "hydraulics">("manifolds");
const views = [
  { value: "manifolds", label: "Manifolds" },
  { value: "hydraulics", label: "Pump and balance" },
];
const range = computed(() => waterRange(design.value?.loops ?? []));
const colour = (c: number) => onScreen(waterColour((c - range.value[0]) / (range.value[1] - range.value[0] || 1)));
/** The strongest flow of all circuits fills a meter. */
const most = computed(() => Math.max(1e-9, ...manifolds.value.flatMap((x) => x.ports.map((p) => p.loop?.flow_l_min ?? p.field?.flow_l_min ?? 0))));
const roomName = (id?: string) => job.value?.rooms.find((r) => r.id === id)?.name ?? "";

interface Port {
  number: number;
  loop: LoopDesign | null;
  /** One of the circuits of a field, in words. */
  field: { name: string; flow_l_min: number; circuit_m: number; return_c?: number | null; balancing_pa: number; valve?: ValveSetting | null } | null;
}
const manifolds = computed(() =>
  (design.value?.manifolds ?? []).map((m: ManifoldDesign) => {
    const of = (design.value?.loops ?? []).filter((l) => l.manifold_id === m.id);
    // circuits of fields have no port of their own in the job: they take what the loops leave, from the lowest on
    const circuits = fieldRows(job.value, design.value)
      .filter((f) => f.of.manifold_id === m.id)
      .flatMap((f) => Array.from({ length: f.of.circuits }, () => ({ ...f.of, name: f.name, flow_l_min: f.of.flow_l_min / f.of.circuits })));
    const ports: Port[] = Array.from({ length: Math.max(m.ports, m.ports_used, ...of.map((l) => l.port)) }, (_, k) => {
      const loop = of.find((l) => l.port === k + 1) ?? null;
      return { number: k + 1, loop, field: loop ? null : (circuits.shift() ?? null) };
    });
    return { m, ports, room: roomName(job.value?.manifolds.find((x) => x.id === m.id)?.room_id) };
  }),
);
/** The circuits, each with its manifolds. */
const circuits = computed(() => (design.value?.circuits ?? []).map((c) => ({ c, on: manifolds.value.filter((x) => c.manifold_ids.includes(x.m.id)) })).filter((x) => x.on.length || x.c.id));
const supplyOf = (c: CircuitDesign) => c.supply_c ?? range.value[1];
const NEW = "\u0001";
/** A job that names no circuit has one without an id, which no choice can have. */
const UNNAMED = "\u0002";
const choices = computed(() => [...(design.value?.circuits ?? []).map((c) => ({ value: c.id || UNNAMED, text: c.name })), { value: NEW, text: "a new circuit" }]);
function move(manifoldId: string, to: string) {
  const letter = job.value?.manifolds.find((m) => m.id === manifoldId)?.letter ?? "";
  if (to === NEW) store.edit("add a circuit", (j) => void addCircuit(j, manifoldId, `Manifold ${letter}`));
  else if (to !== UNNAMED) store.edit("choose the circuit", (j) => putOn(j, manifoldId, to));
}
const rename = (id: string, name: string) => store.edit("name the circuit", (j) => (j.circuits!.find((c) => c.id === id)!.name = name));
const remove = (id: string) => store.edit("delete circuit", (j) => removeCircuit(j, id));
</script>

<template>
  <section class="manifolds" aria-label="Manifolds" tabindex="0">
    <header class="no-print">
      <ElSegmented v-model="view" size="small" :options="views" aria-label="View of the water" />
      <ElButton size="small" @click="showView(PLAN)">Show the plan</ElButton>
    </header>
    <HydraulicsView v-if="view === 'hydraulics' && manifolds.length" />
    <template v-if="!manifolds.length">
      <ElEmpty v-if="!job?.rooms.length" description="No rooms yet. Draw them at Rooms." :image-size="60" />
      <template v-else>
        <p class="quiet">No manifold yet: hang one at Rooms, or take a place here.</p>
        <ManifoldPlaces />
      </template>
    </template>
    <section v-for="{ c, on } in view === 'manifolds' ? circuits : []" :key="c.id" class="circuit" :aria-label="`Circuit ${c.name}`">
      <header v-if="c.id">
        <TextField class="name" :model-value="c.name" label="Name of the circuit" required @update:model-value="rename(c.id, $event)" />
        <dl>
          <div><dt>Supply</dt><dd>{{ show("temperature", c.supply_c, units) }}</dd></div>
          <div><dt>set by</dt><dd><JobField :path="`${pathOf(job, 'circuits', c.id)}.supply_c`" :label="`Mixing valve of ${c.name}`" :empty="c.governing_room_id ? roomName(c.governing_room_id) : 'its governing room'" wide /></dd></div>
          <div><dt>Heat</dt><dd>{{ show("heat", c.heat_w, units) }}</dd></div>
          <div><dt>Flow</dt><dd>{{ show("flow", c.flow_l_min, units) }}</dd></div>
          <div><dt>Return</dt><dd>{{ show("temperature", c.return_c, units) }}</dd></div>
          <div><dt>{{ dialect("Pressure drop", units) }}</dt><dd>{{ show("head", c.head_needed_pa, units) }}</dd></div>
        </dl>
        <ElButton size="small" @click="remove(c.id)">Delete circuit</ElButton>
      </header>
      <p v-if="!on.length" class="quiet">No manifold is on it.</p>
      <article v-for="{ m, ports, room } in on" :key="m.id" :class="{ chosen: where.selection?.id === m.id }">
        <h3>
<ElButton link type="primary" @click="store.select({ kind: 'manifold', id: m.id })">{{ m.letter }}</ElButton> {{ room }}
          <label class="of">Circuit <ChoiceField :model-value="c.id || UNNAMED" :options="choices" :label="`Circuit of manifold ${m.letter}`" @update:model-value="move(m.id, $event)" /></label>
        </h3>
        <dl>
          <div><dt>Ports</dt><dd>{{ m.ports_used }} of {{ m.ports }}</dd></div>
          <div><dt>Flow</dt><dd>{{ show("flow", m.flow_l_min, units) }}</dd></div>
          <div><dt>Supply</dt><dd>{{ show("temperature", c.supply_c, units) }}</dd></div>
          <div><dt>Return, mixed</dt><dd>{{ show("temperature", m.return_c, units) }}</dd></div>
          <div><dt>{{ dialect("Pressure drop", units) }}</dt><dd>{{ show("head", m.head_needed_pa, units) }}</dd></div>
        </dl>
        <ol class="ports" :style="{ '--supply': colour(supplyOf(c)), '--return': colour(m.return_c ?? supplyOf(c)) }">
          <li v-for="p in ports" :key="p.number" :class="{ free: !p.loop && !p.field, chosen: p.loop && where.selection?.id === p.loop.id }">
            <template v-if="p.loop">
              <ElButton link type="primary" class="tag" @click="store.select({ kind: 'loop', id: p.loop.id })">{{ p.loop.tag }}</ElButton>
              <PortFigures :name="p.loop.room_ids.map(roomName).join(', ')" :flow="p.loop.flow_l_min" :most="most" :length="p.loop.length_m" :return="p.loop.return_c" :colour="colour(p.loop.return_c)" :valve="p.loop" />
            </template>
            <template v-else-if="p.field">
              <span class="tag">{{ p.number }}</span>
              <PortFigures :name="p.field.name" :flow="p.field.flow_l_min" :most="most" :length="p.field.circuit_m" :return="p.field.return_c" :colour="colour(p.field.return_c ?? supplyOf(c))" :valve="p.field" />
            </template>
            <template v-else><span class="tag">{{ p.number }}</span><span class="room">free</span></template>
          </li>
        </ol>
      </article>
    </section>
  </section>
</template>

<style scoped>
.manifolds { overflow: auto; padding: 0 16px 10px; background: var(--sheet); }
.manifolds > header { position: sticky; top: 0; z-index: 2; background: var(--sheet); padding: 8px 0 6px; }
header { display: flex; justify-content: space-between; align-items: center; gap: 12px; }
article { margin: 10px 0 18px; }
h3 { display: flex; gap: 8px; align-items: baseline; }
.of { margin-left: auto; font-size: 13px; font-weight: 400; }
.circuit > header { border-bottom: 2px solid var(--line); padding: 6px 0 4px; flex-wrap: wrap; }
.circuit > header dl { flex: 1; margin: 0; align-items: center; }
.circuit .name.el-input { width: 170px; font-weight: 650; }
.circuit + .circuit { margin-top: 22px; }
dl { display: flex; flex-wrap: wrap; gap: 2px 22px; margin: 4px 0 8px; }
dl div { display: flex; gap: 6px; }
dt { color: var(--soft); }
dd { margin: 0; font-weight: 600; }
.ports { list-style: none; margin: 0; padding: 0; display: flex; flex-wrap: wrap; gap: 10px 0; }
.ports li { width: 66px; min-height: 176px; padding: 14px 2px 12px; display: flex; flex-direction: column; align-items: center; gap: 1px; border-top: 9px solid var(--supply); border-bottom: 9px solid var(--return); border-left: 1px solid var(--faint); text-align: center; font-size: 12px; line-height: 1.2; }
.ports li.free { color: var(--soft); }
.ports li.chosen { background: var(--ember-soft); }
.tag { font-size: 14px; font-weight: 650; }
.room { color: var(--soft); }
.valve { color: var(--soft); }
.quiet { color: var(--soft); }
</style>
