<script setup lang="ts">
/** One job: rail, sheet, ledger, verdict; the bar above tells whether it is saved. */
import { computed, onBeforeUnmount, onMounted, ref, watch } from "vue";
import { RouterLink, useRoute, useRouter } from "vue-router";
import { leave, type Station } from "../api/client";
import Inspector from "../components/Inspector.vue";
import Rail from "../components/Rail.vue";
import Verdict from "../components/Verdict.vue";
import { store } from "../job/store";
import FloorLedger from "../ledgers/FloorLedger.vue";
import HeatLedger from "../ledgers/HeatLedger.vue";
import LoopsLedger from "../ledgers/LoopsLedger.vue";
import CompareLayouts from "../loops/CompareLayouts.vue";
import ScoreCard from "../loops/ScoreCard.vue";
import RoomsLedger from "../ledgers/RoomsLedger.vue";
import FloorStation from "../floor/FloorStation.vue";
import Sheet from "../sheet/Sheet.vue";
import Papers from "../stations/Papers.vue";
import SiteForm from "../stations/SiteForm.vue";

const route = useRoute();
const router = useRouter();
const { job, state, units } = store;
const station = computed(() => String(route.params.station).replace("-", "_") as Station);
const sheet = ref<InstanceType<typeof Sheet>>();
const folded = ref(false);
/** The plan in place of the section at station Floor. */
const floorPlan = ref(false);
/** Layouts side by side in place of the sheet at station Loops. */
const comparing = ref(false);
/** The score card in place of the table of loops. */
const card = ref(false);
const conflictBusy = ref("");

watch(() => String(route.params.id), (id) => void store.open(id), { immediate: true });
watch(station, (s) => (state.station = s), { immediate: true });
watch(() => job.value?.name, (name) => (document.title = name ? `${name} · Fuoco` : "Fuoco"));
onBeforeUnmount(() => {
  document.title = "Fuoco";
  store.close();
});

const saved = computed(
  () =>
    // nothing is said of a job that is not open yet
    job.value &&
    ({
      saved: "Saved",
      saving: "Saving…",
      offline: "Not saved: the server does not answer. Your edits are kept here; trying again.",
      conflict: "Not saved: changed elsewhere",
      refused: "Not saved",
    })[state.save],
);

/** Figures that belong to the job as it was are never shown without a word. */
const behind = computed(() => (state.behind ? (store.design.value ? "Calculating… The figures shown are those before your last edits." : "Calculating…") : ""));

const typing = (e: Event) => e.target instanceof HTMLElement && /^(INPUT|SELECT|TEXTAREA)$/.test(e.target.tagName) && (e.target as HTMLInputElement).type !== "checkbox";
function key(e: KeyboardEvent) {
  const command = e.ctrlKey || e.metaKey;
  const letter = e.key.toLowerCase();
  if (command && !typing(e) && (letter === "z" || letter === "y")) {
    e.preventDefault();
    if (letter === "y" || e.shiftKey) store.redo();
    else store.undo();
  } else if (!command && !e.altKey && !typing(e)) {
    const number = Number(letter);
    const paths = ["site", "rooms", "heat-loss", "floor", "loops", "water", "papers"];
    if (number >= 1 && number <= paths.length) void router.push(`/jobs/${state.id}/${paths[number - 1]}`);
    else if (letter === "delete" || letter === "backspace") store.removeSelected();
    else if (sheet.value?.toolKey(letter)) e.preventDefault();
  }
}
const online = () => store.retry();
const gone = () => leave();
onMounted(() => {
  window.addEventListener("keydown", key);
  window.addEventListener("online", online);
  window.addEventListener("pagehide", gone);
});
onBeforeUnmount(() => {
  window.removeEventListener("keydown", key);
  window.removeEventListener("online", online);
  window.removeEventListener("pagehide", gone);
});

async function settle(how: "copy" | "theirs" | "mine") {
  conflictBusy.value = how;
  try {
    const id = await store.resolveConflict(how);
    if (id !== state.id) await router.push(`/jobs/${id}/rooms`);
  } catch {
    state.save = "conflict";
  } finally {
    conflictBusy.value = "";
  }
}
const setUnits = (e: Event) => store.edit("switch units", (j) => (j.site.units = (e.target as HTMLSelectElement).value as "us"));
const showsPlan = computed(() => station.value !== "site" && station.value !== "papers" && !(station.value === "loops" && comparing.value));
</script>

<template>
  <div class="job" :class="{ folded, wide: !showsPlan, paper: station === 'papers', behind: state.behind }" :aria-busy="state.behind">
    <header class="top no-print">
      <RouterLink to="/" class="home" aria-label="All jobs"><img src="/icon.svg" alt="" width="22" height="22" /></RouterLink>
      <h1>{{ job?.name ?? "Fuoco" }}</h1>
      <span class="save" :class="state.save" role="status">{{ saved }}<template v-if="state.save === 'refused' && state.problem">: {{ state.problem.detail }}</template></span>
      <span class="behind" role="status">{{ behind }}</span>
      <span class="spacer"></span>
      <button class="plain tool" :disabled="state.undoDepth === 0" title="Undo (Ctrl+Z)" @click="store.undo()">Undo</button>
      <button class="plain tool" :disabled="state.redoDepth === 0" title="Redo (Ctrl+Shift+Z)" @click="store.redo()">Redo</button>
      <label>Units <select :value="units" aria-label="Units" :disabled="!job" @change="setUnits"><option value="metric">metric</option><option value="us">US</option></select></label>
    </header>
    <Rail class="no-print" />
    <main v-if="job" class="centre">
      <SiteForm v-if="station === 'site'" />
      <Papers v-else-if="station === 'papers'" />
      <FloorStation v-else-if="station === 'floor' && !floorPlan" @plan="floorPlan = true" />
      <CompareLayouts v-else-if="station === 'loops' && comparing" @close="comparing = false" />
      <Sheet v-else ref="sheet" :station="station" @compare="comparing = true" />
      <button v-if="station === 'floor' && floorPlan" class="plain back no-print" @click="floorPlan = false">Back to the section</button>
      <section v-if="showsPlan" class="ledger no-print" aria-label="Ledger">
        <button v-if="station === 'loops' && !folded" class="plain link card" :aria-pressed="card" @click="card = !card">{{ card ? "Table of loops" : "Score card" }}</button>
        <button class="plain fold" :aria-expanded="!folded" @click="folded = !folded">{{ folded ? "▲ Show the ledger" : "▼ Fold the ledger" }}</button>
        <template v-if="!folded">
          <RoomsLedger v-if="station === 'rooms'" />
          <HeatLedger v-else-if="station === 'heat_loss'" />
          <FloorLedger v-else-if="station === 'floor'" />
          <ScoreCard v-else-if="station === 'loops' && card" />
          <LoopsLedger v-else :water="station === 'water'" />
        </template>
      </section>
    </main>
    <main v-else class="centre wait">
      <p v-if="state.loadError" role="alert">{{ state.loadError }} <button class="plain link" @click="store.open(String(route.params.id))">Try again</button> <RouterLink to="/">All jobs</RouterLink></p>
      <p v-else>Opening the job…</p>
    </main>
    <aside v-show="station !== 'papers'" class="side no-print" aria-label="What is chosen, and the verdict">
      <div class="side-scroll" tabindex="0" role="region" aria-label="Verdict column">
        <Inspector v-if="job" />
        <Verdict v-if="job" />
      </div>
    </aside>
    <ElDialog :model-value="state.save === 'conflict'" title="This job was changed elsewhere" width="520" :show-close="false" :close-on-click-modal="false" :close-on-press-escape="false">
      <p>Another window or person saved this job after you opened it (revision {{ state.theirRevision ?? "?" }}; yours began at {{ state.revision }}). Nothing of yours is lost, and nothing of theirs has been overwritten. What shall happen?</p>
      <template #footer>
        <div class="choices">
          <ElButton type="primary" :loading="conflictBusy === 'copy'" @click="settle('copy')">Keep mine as a new job</ElButton>
          <ElButton :loading="conflictBusy === 'theirs'" @click="settle('theirs')">Take theirs, drop mine</ElButton>
          <ElButton :loading="conflictBusy === 'mine'" @click="settle('mine')">Replace theirs with mine</ElButton>
        </div>
      </template>
    </ElDialog>
  </div>
</template>

<style scoped>
.job { display: grid; height: 100vh; grid-template: 42px minmax(0, 1fr) / 138px minmax(0, 1fr) 304px; grid-template-areas: "top top top" "rail centre side"; }
.top { grid-area: top; display: flex; align-items: center; gap: 12px; padding: 0 12px; border-bottom: 1px solid var(--line); min-width: 0; }
.top h1 { font-size: 16px; white-space: nowrap; overflow: hidden; text-overflow: ellipsis; }
.home { display: flex; }
.save { color: var(--soft); font-size: 13px; }
.save.offline, .save.conflict, .save.refused { color: var(--ember); font-weight: 600; }
.behind[role="status"]:not(:empty) { font-size: 13px; padding: 1px 8px; border-radius: 3px; background: var(--ember-soft); white-space: nowrap; overflow: hidden; text-overflow: ellipsis; min-width: 0; }
.spacer { flex: 1; }
.tool { color: var(--ink); padding: 4px 6px; }
.tool:disabled { color: #837868; cursor: default; }
.rail { grid-area: rail; min-width: 0; }
.centre { grid-area: centre; display: grid; grid-template: minmax(0, 1fr) 236px / minmax(0, 1fr); min-width: 0; min-height: 0; }
.job.folded .centre { grid-template-rows: minmax(0, 1fr) 26px; }
.job.wide .centre { grid-template-rows: minmax(0, 1fr); }
.job.paper { grid-template-columns: 138px minmax(0, 1fr) 0; }
.ledger { border-top: 1px solid var(--line); display: flex; flex-direction: column; min-height: 0; min-width: 0; position: relative; padding-top: 2px; }
.fold { align-self: stretch; text-align: right; padding: 0 12px; font-size: 12px; line-height: 20px; color: var(--soft); }
.card { position: absolute; left: 8px; top: 1px; font-size: 13px; z-index: 2; }
.wait { padding: 40px; }
.side { grid-area: side; border-left: 1px solid var(--line); min-height: 0; }
.side-scroll { height: 100%; overflow: auto; }
.choices { display: flex; flex-direction: column; gap: 8px; align-items: stretch; }
.choices .el-button { margin: 0; }
@media (max-width: 900px) {
  .job { height: auto; min-height: 100vh; grid-template: auto auto minmax(420px, 60vh) auto / minmax(0, 1fr); grid-template-areas: "top" "rail" "centre" "side"; }
  .top { flex-wrap: wrap; padding: 6px 12px; }
  .side { border-left: 0; border-top: 1px solid var(--line); min-width: 0; }
  .job.paper { grid-template-columns: minmax(0, 1fr); }
  .side-scroll { height: auto; }
}
@media print {
  .job { display: block; height: auto; }
  .centre { display: block; }
}
.back { position: absolute; right: 316px; top: 50px; background: var(--paper); border: 1px solid var(--line); border-radius: 3px; padding: 2px 10px; }
</style>
<style>
@media print {
  .no-print { display: none !important; }
  body { background: none; }
}
</style>
