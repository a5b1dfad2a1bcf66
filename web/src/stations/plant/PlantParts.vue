<script setup lang="ts">
/** The source, the piping about it, and what takes heat beside floors. */
import { Delete, Plus } from "@element-plus/icons-vue";
import { computed } from "vue";
import type { HeatSource, HeatUser } from "../../api/client";
import { plain } from "../../job/edit";
import { addUser, changeSource, removeUser } from "../../job/plant";
import { store } from "../../job/store";
import CheckField from "../../kit/CheckField.vue";
import ChoiceField from "../../kit/ChoiceField.vue";
import JobField from "../../kit/JobField.vue";
import TextField from "../../kit/TextField.vue";
import { CONTROLS, EMITTERS, SOURCES } from "../../words";
import { addLike, choices } from "../../products/products";
import PumpCurve from "../../products/PumpCurve.vue";
import SourcePoints from "./SourcePoints.vue";

const { job, library, units } = store;
const plant = computed(() => job.value!.plant!);
const usual = computed(() => library.value!.usual![units.value]);
const sources = computed(() => (["source", "second"] as const).filter((k) => plant.value[k]).map((key) => ({ key, it: plant.value[key]! })));
const setKind = (key: "source" | "second", kind: string) => store.edit("choose the source", (j) => changeSource(j, key, usual.value.sources.find((s) => s.kind === kind)!));
const setSource = (key: "source" | "second", name: string, set: Partial<HeatSource>) => store.edit(name, (j) => Object.assign(j.plant![key]!, set));
/** One of the job's own takes the place of what is there, as it is. */
const takeOwn = (key: "source" | "second", name: string) => store.edit("choose the source", (j) => (j.plant![key] = plain(j.sources!.find((s) => s.name === name)!)));
const keepOwn = (key: "source" | "second") => store.edit("keep the source", (j) => addLike(j, "sources", j.plant![key]!));
const addSecond = () => store.edit("add a second source", (j) => {
  changeSource(j, "second", usual.value.sources[0]!);
  j.plant!.arrangement = "two_sources";
});
const dropSecond = () => store.edit("delete the second source", (j) => {
  delete j.plant!.second;
  if (j.plant!.arrangement === "two_sources") j.plant!.arrangement = "separator";
});
const pumps = computed(() => choices("pumps"));
const emitters = computed(() =>
  (job.value?.rooms ?? []).flatMap((r) => (r.emitters ?? []).filter((e) => e.kind !== "electric_heater").map((e) => ({ value: e.id, text: `${r.name}: ${EMITTERS[e.kind].toLowerCase()}${e.name ? `, ${e.name}` : ""}` }))),
);
const setUser = (id: string, name: string, set: (u: HeatUser) => void) => store.edit(name, (j) => set(j.plant!.users!.find((u) => u.id === id)!));
const add = (kind: string) => store.edit("add a user", (j) => void addUser(j, usual.value.users.find((u) => u.name === kind)!));
const drop = () => store.edit("delete the plant", (j) => void delete j.plant);
const FIELDS: Partial<Record<HeatUser["takes"]["kind"], { key: string; label: string }[]>> = {
  tank: [
    { key: "volume_l", label: "Content" },
    { key: "store_c", label: "Hot water" },
    { key: "coil_w", label: "Coil takes" },
    { key: "coil_supply_c", label: "at a supply of" },
    { key: "coil_flow_l_min", label: "Flow of the coil" },
  ],
  typed: [
    { key: "heat_w", label: "Heat" },
    { key: "supply_c", label: "Supply" },
    { key: "return_c", label: "Return" },
    { key: "around_c", label: "What it heats" },
  ],
  emitters: [{ key: "drop_k", label: "Temperature drop" }],
};
</script>

<template>
  <div class="parts">
    <section v-for="{ key, it } in sources" :key="key" :aria-label="key === 'source' ? 'Source' : 'Second source'">
      <h3>{{ key === "source" ? "Source" : "Second source" }} <ElButton v-if="key === 'second'" link :icon="Delete" aria-label="Delete the second source" @click="dropSecond" /></h3>
      <dl>
        <template v-if="job!.sources?.length"><dt>Own source</dt><dd><ChoiceField :model-value="job!.sources.find((s) => s.name === it.name)?.name" :options="job!.sources.map((s) => ({ value: s.name!, text: s.name! }))" :label="`Own ${key} to take`" empty="none of them" @update:model-value="$event && takeOwn(key, $event)" /></dd></template>
        <dt>Kind</dt><dd><ChoiceField :model-value="it.kind" :options="SOURCES" :label="`Kind of the ${key}`" @update:model-value="setKind(key, $event)" /></dd>
        <dt>Name</dt><dd><TextField :model-value="it.name" :label="`Name of the ${key}`" @update:model-value="setSource(key, 'name the source', { name: $event })" /></dd>
        <dt>Rated output</dt><dd><JobField :path="`plant.${key}.most_w`" :label="`Rated output of the ${key}`" /></dd>
        <dt>Lowest output</dt><dd><JobField :path="`plant.${key}.least_w`" :label="`Lowest output of the ${key}`" /></dd>
        <dt>Hottest water</dt><dd><JobField :path="`plant.${key}.most_c`" :label="`Hottest water of the ${key}`" /></dd>
        <dt>Water leaves at</dt><dd><JobField :path="`plant.${key}.leaves_c`" :label="`Water of the ${key}`" empty="what is needed" /></dd>
        <dt>Coolest return</dt><dd><JobField :path="`plant.${key}.least_return_c`" :label="`Coolest return of the ${key}`" empty="any" /></dd>
        <dt>Least flow</dt><dd><JobField :path="`plant.${key}.least_flow_l_min`" :label="`Least flow of the ${key}`" empty="any" /></dd>
        <dt>Largest rise</dt><dd><JobField :path="`plant.${key}.rise_k`" :label="`Largest rise of the ${key}`" /></dd>
        <dt>Flow factor</dt><dd><JobField :path="`plant.${key}.kv_m3_h`" :label="`Flow factor of the ${key}`" /></dd>
        <dt>Water in it</dt><dd><JobField :path="`plant.${key}.content_l`" :label="`Water in the ${key}`" /></dd>
        <dt>On to off</dt><dd><JobField :path="`plant.${key}.differential_k`" :label="`Differential of the ${key}`" /></dd>
        <dt>Its pump</dt><dd><ChoiceField :model-value="it.pump?.model_id" :options="pumps" :label="`Pump of the ${key}`" empty="the smallest that serves" @update:model-value="setSource(key, 'choose the pump', { pump: { ...it.pump, model_id: $event } })" /></dd>
        <dt>run at</dt><dd><ChoiceField :model-value="it.pump?.control ?? 'constant_pressure'" :options="CONTROLS" :label="`Control of the ${key}'s pump`" @update:model-value="setSource(key, 'choose the control', { pump: { ...it.pump, control: $event as never } })" /></dd>
      </dl>
      <div class="acts">
      <PumpCurve :path="`plant.${key}.pump`" :label="`the ${key}`" :of="(j) => (j.plant![key]!.pump ??= {})" />
      <ElButton link size="small" :icon="Plus" :title="'It can then be chosen again, and be kept for new jobs on the Firm page'" @click="keepOwn(key)">Keep among own sources</ElButton>
      </div>
      <SourcePoints v-if="it.kind === 'heat_pump_air' || it.kind === 'heat_pump_ground'" :which="key" />
    </section>
    <section aria-label="Piping">
      <h3>Piping</h3>
      <dl>
        <dt>Primary, bore</dt><dd><JobField path="plant.primary_bore_m" label="Bore of the primary piping" /></dd>
        <dt>there and back</dt><dd><JobField path="plant.primary_m" label="Length of the primary piping" /></dd>
        <dt>Tees apart</dt><dd><JobField path="plant.tees_apart_m" label="Distance of the tees" /></dd>
        <dt>Buffer tank</dt><dd><JobField path="plant.buffer_l" label="Buffer tank" /></dd>
        <dt v-if="plant.arrangement === 'exchanger'">Exchanger</dt><dd v-if="plant.arrangement === 'exchanger'"><JobField path="plant.exchanger_w_k" label="Heat exchanger" /></dd>
        <dt>Heating off from</dt><dd><JobField path="plant.warm_weather_c" label="Warm-weather shut-off" /></dd>
        <dt>Water over vessel</dt><dd><JobField path="plant.static_m" label="Height of water over the vessel" empty="by the storeys" /></dd>
        <dt>Relief valve</dt><dd><JobField path="plant.relief_pa" label="Relief valve" /></dd>
      </dl>
      <div class="acts">
<ElButton v-if="!plant.second" size="small" :icon="Plus" @click="addSecond">Second source</ElButton>
      <ElButton size="small" :icon="Delete" @click="drop">Delete the plant</ElButton>
</div>
    </section>
    <section class="users" aria-label="Users beside floors">
      <h3>Users beside floors</h3>
      <article v-for="(u, i) in plant.users ?? []" :key="u.id" :aria-label="u.name">
        <header><TextField :model-value="u.name" label="Name of the user" required @update:model-value="setUser(u.id, 'name the user', (x) => (x.name = $event))" /><ElButton link :icon="Delete" :aria-label="`Delete ${u.name}`" @click="store.edit('delete a user', (j) => removeUser(j, u.id))" /></header>
        <dl>
          <template v-if="u.takes.kind === 'emitters'">
            <dt>Emitters</dt>
            <dd><ElSelect multiple collapse-tags size="small" :model-value="u.takes.emitter_ids" :aria-label="`Emitters of ${u.name}`" placeholder="none" @update:model-value="setUser(u.id, 'choose the emitters', (x) => x.takes.kind === 'emitters' && (x.takes.emitter_ids = $event as string[]))"><ElOption v-for="e in emitters" :key="e.value" :value="e.value" :label="e.text" /></ElSelect></dd>
          </template>
          <template v-for="f in FIELDS[u.takes.kind]" :key="f.key"><dt>{{ f.label }}</dt><dd><JobField :path="`plant.users[${i}].takes.${f.key}`" :label="`${f.label} of ${u.name}`" /></dd></template>
          <template v-if="u.takes.kind === 'typed'"><dd class="both"><CheckField :model-value="u.takes.always ?? false" label="The same in all weather" @update:model-value="setUser(u.id, 'set its weather', (x) => x.takes.kind === 'typed' && (x.takes.always = Boolean($event)))">the same in all weather</CheckField></dd></template>
        </dl>
      </article>
      <p v-if="!plant.users?.length" class="quiet">Radiators, a hot-water tank, towel rails, circuits that stay.</p>
      <ElButton v-for="u in usual.users" :key="u.name" size="small" :icon="Plus" :disabled="u.takes.kind === 'emitters' && !emitters.length" :title="u.takes.kind === 'emitters' && !emitters.length ? 'Record radiators at Rooms first' : undefined" @click="add(u.name)">{{ u.name }}</ElButton>
    </section>
  </div>
</template>

<style scoped>
.parts { display: grid; grid-template-columns: repeat(auto-fit, minmax(250px, 1fr)); gap: 6px 22px; padding: 8px 14px; align-content: start; }
h3 { margin: 4px 0; }
dl { display: grid; grid-template-columns: 108px minmax(0, 1fr); gap: 3px 8px; align-items: center; margin: 0 0 8px; }
dt { color: var(--soft); }
dd { margin: 0; min-width: 0; }
dd.both { grid-column: 1 / -1; }
.parts .el-button + .el-button { margin-left: 0; }
article { border: 1px solid var(--faint); border-radius: 4px; padding: 5px 8px; margin-bottom: 6px; }
article header { display: flex; gap: 6px; margin-bottom: 4px; }
.acts { display: flex; flex-wrap: wrap; gap: 6px; }
.users .el-button { margin: 0 6px 6px 0; }
.quiet { color: var(--soft); margin: 0 0 6px; }
</style>
