<script setup lang="ts">
/** One job: rail, the station's view or the sheet, its ledger, what is chosen, the verdict. */
import { useEventListener, useIntervalFn } from "@vueuse/core";
import { computed, onBeforeUnmount, ref, watch } from "vue";
import { RouterLink, useRoute, useRouter } from "vue-router";
import { leave } from "../api/client";
import Inspector from "../inspector/Inspector.vue";
import { store } from "../job/store";
import { tellReader, tellTaken } from "../people/reader";
import Sheet from "../sheet/Sheet.vue";
import { stationAt, stationOfKey } from "../stations";
import { PLAN, useStationView } from "../stations/view";
import ConflictDialog from "./ConflictDialog.vue";
import Rail from "./Rail.vue";
import Tells from "./Tells.vue";
import TopBar from "./TopBar.vue";
import Verdict from "./Verdict.vue";

const route = useRoute();
const router = useRouter();
const { job, state, where, sync, live, designs } = store;
const station = computed(() => stationAt(String(route.params.station), job.value));
const { wanted } = useStationView();
const view = computed(() => {
  const { views = {}, first = PLAN } = station.value;
  const name = wanted.value === PLAN || wanted.value in views ? wanted.value : first;
  return views[name] ?? null;
});
const sheet = ref<InstanceType<typeof Sheet>>();
const folded = ref(false);
const ledgers = computed(() => Object.keys(station.value.ledgers ?? {}));
const ledger = ref("");
const ledgerShown = computed(() => (ledgers.value.includes(ledger.value) ? ledger.value : (ledgers.value[0] ?? "")));
const hasLedger = computed(() => ledgers.value.length > 0 && !view.value?.whole);

watch(() => String(route.params.id), (id) => void store.open(id), { immediate: true });
watch(station, (s) => (where.station = s.id), { immediate: true });
watch(() => job.value?.name, (name) => (document.title = name ? `${name} · Fuoco` : "Fuoco"));
watch(() => state.locked, () => tellReader(state.offlineSince !== null));
watch(() => sync.state.tookIn, () => tellTaken(live.state.lastBy));
onBeforeUnmount(() => {
  document.title = "Fuoco";
  store.close();
});

/** A field has the keys, or something lies over the sheet. */
const typing = (e: KeyboardEvent) => e.target instanceof HTMLElement && (e.target.isContentEditable || (/^(INPUT|SELECT|TEXTAREA)$/.test(e.target.tagName) && !["checkbox", "radio"].includes((e.target as HTMLInputElement).type)));
const covered = () => document.querySelector(".el-overlay:not([style*='display: none'], .dialog-fade-leave-active) [role='dialog']") !== null;
function key(e: KeyboardEvent) {
  const command = e.ctrlKey || e.metaKey;
  const letter = e.key.toLowerCase();
  if (e.defaultPrevented || covered()) return;
  if (typing(e)) {
    // what was typed is given up, and the keys are the sheet's again
    if (letter === "escape") (e.target as HTMLElement).blur();
    return;
  }
  // a button that has the focus takes Enter and space itself
  if ((letter === "enter" || letter === " ") && e.target instanceof HTMLElement && e.target.closest("button, a, [role='tab'], [role='radio']")) return;
  if (command && (letter === "z" || letter === "y")) {
    e.preventDefault();
    if (letter === "y" || e.shiftKey) store.redo();
    else store.undo();
  } else if (!command && !e.altKey) {
    const station = stationOfKey(letter, job.value);
    if (station) void router.push(`/jobs/${state.id}/${station.path}`);
    else if (letter === "delete" || letter === "backspace") {
      // what cannot be seen is not deleted
      if (sheet.value) store.removeSelected();
    } else if (sheet.value?.letter(letter)) e.preventDefault();
  }
}
useEventListener(window, "keydown", key);
useEventListener(window, "online", () => sync.retry());
// what was opened without a network is opened anew when there is one
useIntervalFn(() => void store.comeBack(), 5000);
useEventListener(window, "online", () => void store.comeBack());
useEventListener(window, "pagehide", () => {
  sync.flush();
  leave();
});
useEventListener(document, "visibilitychange", () => {
  if (document.visibilityState === "hidden") sync.flush();
  else void store.refresh();
});
useEventListener(window, "beforeunload", (e: BeforeUnloadEvent) => {
  // only where nothing else keeps the edits
  if (sync.state.save !== "saved" && sync.state.nowhere) e.preventDefault();
});
</script>

<template>
  <div class="job" :class="{ folded, wide: !hasLedger, drawn: !view, alone: station.alone, behind: designs.state.behind }" :aria-busy="designs.state.behind">
    <TopBar class="top" />
    <Rail class="rail no-print" />
    <main v-if="job" class="centre">
      <component :is="view.component" v-if="view" :key="station.id" />
      <Sheet v-else ref="sheet" :station="station" />
      <section v-if="hasLedger" class="ledger no-print" aria-label="Ledger">
        <div class="head">
          <ElSegmented v-if="ledgers.length > 1 && !folded" size="small" :model-value="ledgerShown" :options="ledgers" aria-label="Table" @update:model-value="ledger = String($event)" />
          <ElButton class="fold" link :aria-expanded="!folded" @click="folded = !folded">{{ folded ? "▲ Show the ledger" : "▼ Fold the ledger" }}</ElButton>
        </div>
        <component :is="station.ledgers![ledgerShown]" v-if="!folded" />
      </section>
    </main>
    <main v-else class="centre wait">
      <p v-if="state.loadError" role="alert">{{ state.loadError }} <ElButton link type="primary" @click="store.open(String(route.params.id))">Try again</ElButton> <RouterLink to="/">All jobs</RouterLink></p>
      <ElSkeleton v-else :rows="8" animated role="status" aria-label="Opening the job…" />
    </main>
    <aside v-if="!station.alone" class="side no-print" aria-label="What is chosen, and the verdict">
      <div class="side-scroll" tabindex="0" role="region" aria-label="Verdict column">
        <Inspector v-if="job" :station="station" />
        <Verdict v-if="job" />
      </div>
    </aside>
    <ConflictDialog />
    <Tells />
  </div>
</template>

<style scoped>
.job { display: grid; height: 100vh; grid-template: 42px minmax(0, 1fr) / 142px minmax(0, 1fr) 304px; grid-template-areas: "top top top" "rail centre side"; }
.top { grid-area: top; }
.rail { grid-area: rail; min-width: 0; }
.ledger .head :deep(.el-segmented) { max-width: 100%; overflow-x: auto; }
.centre { grid-area: centre; display: grid; grid-template: minmax(0, 1fr) 236px / minmax(0, 1fr); min-width: 0; min-height: 0; }
.job.folded .centre { grid-template-rows: minmax(0, 1fr) 28px; }
.job.wide .centre { grid-template-rows: minmax(0, 1fr); }
.job.alone { grid-template-columns: 142px minmax(0, 1fr) 0; }
/* in its row while the view above is still on its way */
.ledger { grid-row: 2; border-top: 1px solid var(--line); display: flex; flex-direction: column; min-height: 0; min-width: 0; position: relative; }
.head { display: flex; align-items: center; justify-content: space-between; padding: 1px 8px; min-height: 26px; flex-wrap: wrap; min-width: 0; }
.fold { font-size: 12px; margin-left: auto; }
.wait { padding: 40px; }
.side { grid-area: side; border-left: 1px solid var(--line); min-height: 0; }
.side-scroll { height: 100%; overflow: auto; }
@media (max-width: 900px) {
  .job { height: auto; min-height: 100vh; align-content: start; grid-template: auto auto auto auto / minmax(0, 1fr); grid-template-areas: "top" "rail" "centre" "side"; }
  .job.alone { grid-template-columns: minmax(0, 1fr); }
  .centre { grid-template-rows: minmax(380px, 62vh) auto; }
  .job.wide .centre { grid-template-rows: auto; }
  .job.wide.drawn .centre { grid-template-rows: minmax(380px, 62vh); }
  .ledger { max-height: 70vh; }
  .side { border-left: 0; border-top: 1px solid var(--line); min-width: 0; }
  .side-scroll { height: auto; }
}
@media print {
  .job { display: block; height: auto; }
  .centre { display: block; }
}
</style>
<style>
@media print {
  .no-print { display: none !important; }
  body { background: none; }
}
</style>
