<script setup lang="ts">
/** The flows of one manifold: what each meter shall show while it is set, and what they showed when all were read. */
import { useLocalStorage } from "@vueuse/core";
import { computed, reactive, ref } from "vue";
import type { SettingDesign } from "../../api/client";
import { store } from "../../job/store";
import ReadInstruments from "../../instruments/ReadInstruments.vue";
import { type Ask, type Figures, figureKey, SIMULATED } from "../../instruments/read";
import QuantityField from "../../kit/QuantityField.vue";
import { outbox } from "../../offline/waiting";
import { show } from "../../units";
import { notKept } from "../laying/words";

const props = defineProps<{ manifold: SettingDesign }>();
const { units } = store;
const flow = (v: number | null | undefined) => (v == null ? "" : show("flow", v, units.value));
/** Set in this pass: no record, the meters are read afterwards; but a phone that is put away finds its place again. */
const kept = useLocalStorage<{ pass: number; set: string[] }>(`fuoco-set-${store.state.id}-${props.manifold.manifold_id}`, { pass: 0, set: [] });
const set = computed(() => new Set(kept.value.pass === props.manifold.pass ? kept.value.set : []));
function mark(id: string, so: boolean) {
  const others = [...set.value].filter((s) => s !== id);
  kept.value = { pass: props.manifold.pass, set: so ? [...others, id] : others };
}
const reading = ref<number | null>(null);
const read = reactive<Record<string, number | undefined>>({});
const wrong = ref("");
const busy = ref(false);
const asFound = computed(() => props.manifold.ports.every((p) => p.found_l_min != null));
const inOrder = computed(() => [...props.manifold.ports].sort((a, b) => a.tag.localeCompare(b.tag, undefined, { numeric: true })));
const next = computed(() => props.manifold.ports.find((p) => !set.value.has(p.loop_id))?.loop_id);
const percent = (off: number) => `${off > 0 ? "+" : ""}${Math.round(off * 100)} %`;

function begin(pass: number) {
  for (const p of props.manifold.ports) delete read[p.loop_id];
  wrong.value = "";
  simulated.value = false;
  reading.value = pass;
}
/** Where simulated meters stand: what was ticked in this pass has been turned. */
const turned = computed<Ask>(() => ({
  water: "cold",
  turned: reading.value === 0 ? [] : [...set.value].flatMap((id) => props.manifold.ports.filter((p) => p.loop_id === id && !p.wide_open).map((p) => ({ loop_id: id, shows_l_min: p.shows_l_min }))),
}));
const simulated = ref(false);
function fill(figures: Figures, made: boolean) {
  simulated.value = made;
  for (const p of inOrder.value) read[p.loop_id] = figures.get(figureKey("flow_l_min", p.loop_id)) ?? figures.get(figureKey("flow_l_min", p.tag)) ?? read[p.loop_id];
}
async function keep() {
  const missing = inOrder.value.filter((p) => read[p.loop_id] === undefined);
  if (missing.length) return void (wrong.value = `Read ${missing.map((p) => p.tag).join(", ")} too: the list is worked out from all of them.`);
  if (busy.value) return;
  busy.value = true;
  try {
    for (const p of inOrder.value) await outbox.add(store.state.id, { fact: { kind: "meter_read", loop_id: p.loop_id, pass: reading.value!, flow_l_min: read[p.loop_id]! }, note: simulated.value ? SIMULATED : "" });
    reading.value = null;
  } catch (e) {
    wrong.value = notKept(e);
  } finally {
    busy.value = false;
  }
}
</script>

<template>
  <article :aria-label="`Manifold ${manifold.letter}`">
    <header>
      <h2>Manifold {{ manifold.letter }}</h2>
      <b v-if="manifold.settled" class="set">Set: every meter within 5 %</b>
      <span v-else>Pass {{ manifold.pass }}</span>
    </header>
    <p v-for="r in manifold.remarks" :key="r" class="remark">{{ r }}</p>
    <template v-if="reading === null">
      <p class="note">All ports open, thermostats calling, water cold. From the top: turn each valve until its meter shows its figure, then the next. The others will move it to where it ends.</p>
      <table class="grid-table">
        <thead><tr><th>Loop</th><th class="num">Turn until it shows</th><th class="num">It ends at</th><th class="num">Warm</th><th class="num">Turns</th><th class="num">Found</th><th class="num">Left</th><th></th></tr></thead>
        <tbody>
          <tr v-for="p in manifold.ports" :key="p.loop_id" :class="{ next: !manifold.settled && p.loop_id === next }">
            <td><ElCheckbox v-if="!manifold.settled" :model-value="set.has(p.loop_id)" :aria-label="`${p.tag} is set`" @change="mark(p.loop_id, Boolean($event))"><b>{{ p.tag }}</b></ElCheckbox><b v-else>{{ p.tag }}</b></td>
            <td class="num shows">{{ p.wide_open ? "wide open" : flow(p.shows_l_min) }}</td>
            <td class="num">{{ flow(p.ends_l_min) }}</td>
            <td class="num">{{ flow(p.design_l_min) }}</td>
            <td class="num">{{ p.turns == null || p.wide_open ? "" : p.turns.toFixed(1) }}</td>
            <td class="num">{{ flow(p.found_l_min) }}</td>
            <td class="num">{{ flow(p.left_l_min) }}<template v-if="p.off != null"> ({{ percent(p.off) }})</template></td>
            <td class="why">{{ p.why }}</td>
          </tr>
        </tbody>
      </table>
      <div class="do">
        <ElButton v-if="manifold.pass === 1 && !asFound" size="large" @click="begin(0)">Read all as found</ElButton>
        <ElButton size="large" type="primary" @click="begin(manifold.pass)">Read all after pass {{ manifold.pass }}</ElButton>
      </div>
    </template>
    <form v-else class="site-form sun" @submit.prevent="keep">
      <p class="note">{{ reading === 0 ? "As found, before anything is set" : `After pass ${reading}` }}: what every meter shows.</p>
      <ReadInstruments :ask="turned" label="Read the meters" :fields="read" @read="fill" />
      <label v-for="p in inOrder" :key="p.loop_id">{{ p.tag }}, {{ p.rooms.join(", ") }} <QuantityField v-model="read[p.loop_id]" :label="`Flow of ${p.tag}`" quantity="flow" :min="0" :max="1000" empty="not read" wide /></label>
      <ElAlert v-if="wrong" type="error" :title="wrong" :closable="false" show-icon role="alert" />
      <div class="do"><ElButton size="large" @click="reading = null">Cancel</ElButton><ElButton size="large" type="primary" native-type="submit">Write them down</ElButton></div>
    </form>
  </article>
</template>

<style scoped>
article { margin-bottom: 22px; max-width: 980px; }
header { display: flex; gap: 14px; align-items: baseline; }
h2 { font-size: 19px; margin: 8px 0; }
.set { color: var(--sound); }
.note { color: var(--soft); margin: 4px 0 8px; }
.remark { color: var(--ember); margin: 0 0 6px; font-weight: 600; }
.grid-table { font-size: 16px; display: block; overflow-x: auto; }
.shows { font-size: 19px; font-weight: 650; }
tr.next td { background: var(--floor); }
.why { color: var(--ember); max-width: 260px; }
.grid-table :deep(.el-checkbox__label) { font-size: 17px; }
.grid-table :deep(.el-checkbox) { min-height: 48px; --el-checkbox-input-height: 22px; --el-checkbox-input-width: 22px; --el-checkbox-text-color: var(--ink); --el-checkbox-checked-text-color: var(--sound); }
.do { display: flex; gap: 10px; flex-wrap: wrap; margin-top: 10px; }
.do :deep(.el-button) { margin: 0; min-height: 52px; font-size: 17px; }
form { display: grid; gap: 6px; max-width: 460px; }
</style>
