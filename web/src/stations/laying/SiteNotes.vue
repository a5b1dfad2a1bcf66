<script setup lang="ts">
/** What was written down on site, the newest first: as it was written, and what became of it. */
import { computed, onMounted, ref, watch } from "vue";
import { answer, api, type Entry, type Spot } from "../../api/client";
import { store } from "../../job/store";
import { told } from "../../job/told";
import TextField from "../../kit/TextField.vue";
import { outbox, taken } from "../../offline/waiting";
import { show } from "../../units";
import type { Log } from "./log";
import PhotoPick from "./PhotoPick.vue";
import { roomAt } from "./place";
import PlacePick from "./PlacePick.vue";
import { HARMS, LAY_STEPS, MEDIA, MENDS } from "../../words";
import { notKept, when } from "./words";

const props = defineProps<{ log: Log }>();
const { state, units, live } = store;
const entries = ref<Entry[]>([]);
const failed = ref("");
const note = ref("");
const photos = ref<Blob[]>([]);
const spot = ref<Spot>();
const wrong = ref("");
const roomOf = (s: Spot | null | undefined) => roomAt(store.job.value?.rooms ?? [], s)?.name;
async function load() {
  try {
    entries.value = await answer(api.GET("/api/jobs/{id}/records", { params: { path: { id: state.id } } }));
    failed.value = "";
  } catch (e) {
    failed.value = told(e, "No connection: what is with the server cannot be shown now.");
  }
}
onMounted(load);
watch([taken, () => live.state.recorded], load);

const corrected = computed(() => new Set(entries.value.map((e) => e.record.corrects).filter(Boolean)));
const tag = (id: string) => props.log.loops.find((l) => l.loop_id === id)?.tag ?? `${id} (no longer in the design)`;
const m = (v: number | null | undefined) => (v == null ? "" : show("tube", v, units.value));
function text({ fact }: Entry["record"]): string {
  switch (fact.kind) {
    case "laid": {
      const marks = fact.start_m != null && fact.end_m != null ? `, marks ${m(fact.start_m)} to ${m(fact.end_m)}` : "";
      return `Loop ${tag(fact.loop_id)}: ${LAY_STEPS[fact.step]}${fact.coil ? `, coil ${fact.coil}` : ""}${marks}${fact.reason ? `. ${fact.reason}` : ""}`;
    }
    case "harm":
      return `Loop ${tag(fact.loop_id)}: ${HARMS[fact.harm].toLowerCase()}${fact.mark_m != null ? ` at mark ${m(fact.mark_m)}` : ""}, ${MENDS[fact.mend]}`;
    case "differs":
      return `Loop ${tag(fact.loop_id)} lies differently`;
    case "ticked":
      return `${fact.done ? "Ticked" : "Taken back"}: ${props.log.checks.find((c) => c.item === fact.item)?.text ?? fact.item}`;
    case "test_begun":
      return `Pressure test of ${fact.name} begun, with ${MEDIA[fact.test.medium]}`;
    case "test_read":
      return `Gauge: ${show("gauge", fact.gauge_kpa * 1000, units.value)}`;
    case "test_signed":
      return `Pressure test signed by ${fact.name}`;
    case "filled":
      return ["Heating filled", fact.freezing_c != null ? `freezes at ${show("temperature", fact.freezing_c, units.value)}` : "", fact.pressure_kpa != null ? show("gauge", fact.pressure_kpa * 1000, units.value) : ""].filter(Boolean).join(", ");
    case "meter_read":
      return `Meter of ${tag(fact.loop_id)} ${fact.pass ? `after pass ${fact.pass}` : "as found"}: ${show("flow", fact.flow_l_min, units.value)}`;
    case "heat_up_read":
      return `Heat-up: supply ${show("temperature", fact.supply_c, units.value)}${fact.moisture_percent != null ? `, moisture ${fact.moisture_percent.toFixed(1)} %` : ""}`;
    case "visited":
      return `Visit${fact.cause ? `: ${fact.cause}` : ""}`;
    case "withdrawn":
      return "Taken back";
    default:
      return "";
  }
}
const waiting = computed(() => outbox.state.waiting.filter((w) => w.job_id === state.id).reverse());
/** A clock that lost its battery. */
const clock = (e: Entry) => {
  const [at, came] = [Date.parse(e.record.at), Date.parse(e.received_at)];
  return at > came + 600_000 || at < came - 60 * 86_400_000;
};
async function add() {
  wrong.value = "";
  if (!note.value.trim() && !photos.value.length) return void (wrong.value = "Write something, or add a photo.");
  try {
    await outbox.add(state.id, { fact: { kind: "note" }, note: note.value, photos: photos.value, place: spot.value });
    note.value = "";
    photos.value = [];
    spot.value = undefined;
  } catch (e) {
    wrong.value = notKept(e);
  }
}
async function takeBack(id: string) {
  wrong.value = "";
  await outbox.add(state.id, { fact: { kind: "withdrawn" }, corrects: id }).catch((e: unknown) => (wrong.value = e instanceof Error ? e.message : String(e)));
}
</script>

<template>
  <div class="notes" tabindex="0" role="region" aria-label="Notes of the site">
    <form class="site-form sun" @submit.prevent="add">
      <label>Note <TextField v-model="note" label="Note" :lines="2" :max="2000" /></label>
      <PhotoPick v-model="photos" />
      <PlacePick v-model="spot" />
      <ElAlert v-if="wrong" type="error" :title="wrong" :closable="false" show-icon role="alert" />
      <ElButton size="large" type="primary" native-type="submit">Write it down</ElButton>
    </form>
    <ElAlert v-if="failed" type="warning" :title="failed" :closable="false" show-icon />
    <ul>
      <li v-for="w in waiting" :key="w.record.id" class="waits">
        <b>{{ text(w.record) }}</b> {{ w.record.note }}
        <small>{{ when(w.record.at) }}, {{ w.refused ? `not taken: ${w.refused}` : "waits to be sent" }}</small>
        <ElButton v-if="w.refused" link type="primary" @click="outbox.giveUp(w.number!)">Throw it away</ElButton>
      </li>
      <li v-for="e in [...entries].reverse()" :key="e.number" :class="{ corrected: corrected.has(e.record.id) }">
        <b>{{ text(e.record) }}</b> {{ e.record.note }}
        <small>{{ when(clock(e) ? e.received_at : e.record.at) }}{{ e.who ? `, ${e.who}` : "" }}<template v-if="roomOf(e.record.place)">, {{ roomOf(e.record.place) }}</template><template v-if="clock(e)">; the clock of that device was wrong, this is when it came</template><template v-if="corrected.has(e.record.id)">; taken back or corrected since</template></small>
        <span v-if="e.record.photos?.length" class="shots"><a v-for="p in e.record.photos" :key="p" :href="`/api/files/${p}`" target="_blank" rel="noopener"><img :src="`/api/files/${p}`" alt="Photo of the site" loading="lazy" /></a></span>
        <ElButton v-if="!corrected.has(e.record.id) && e.record.fact.kind !== 'withdrawn'" link type="primary" @click="takeBack(e.record.id)">Take back</ElButton>
      </li>
    </ul>
    <p v-if="!entries.length && !waiting.length && !failed" class="none">Nothing has been written down yet.</p>
  </div>
</template>

<style scoped>
.notes { overflow: auto; flex: 1; padding: 10px 14px 20px; font-size: 16px; max-width: 760px; }
ul { list-style: none; padding: 0; margin: 14px 0 0; }
li { border-top: 1px solid var(--faint); padding: 8px 0; }
li.corrected b { text-decoration: line-through; font-weight: 400; }
small { display: block; color: var(--soft); }
.waits small { color: var(--warn); font-weight: 600; }
.shots { display: flex; gap: 6px; flex-wrap: wrap; }
img { width: 110px; height: 82px; object-fit: cover; border: 1px solid var(--line); border-radius: 3px; }
.none { color: var(--soft); }
</style>
