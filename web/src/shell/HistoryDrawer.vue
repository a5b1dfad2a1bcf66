<script setup lang="ts">
/** What the job was: how it stood at the end of every stretch of work; looked at beside now, and brought back as an edit. */
import { computed, ref, watch } from "vue";
import { answer, api, type Job, type JobSummary, type Revision } from "../api/client";
import { store } from "../job/store";
import { told } from "../job/told";
import { useSession } from "../people/session";
import { show } from "../units";

const open = defineModel<boolean>({ required: true });
const { state, units, design, sync } = store;
const { mayChange } = useSession();
const rows = ref<Revision[] | null>(null);
const failed = ref("");
const chosen = ref<Revision | null>(null);
const then = ref<JobSummary | null>(null);

watch(open, async (is) => {
  if (!is) return;
  rows.value = null;
  chosen.value = null;
  failed.value = "";
  const id = state.id;
  try {
    const got = await answer(api.GET("/api/jobs/{id}/revisions", { params: { path: { id } } }));
    if (state.id === id) rows.value = got;
  } catch (e) {
    failed.value = told(e);
  }
});
const at = (r: Revision) => ({ params: { path: { id: state.id, revision: r.revision } } });
async function look(r: Revision) {
  chosen.value = r;
  then.value = null;
  failed.value = "";
  try {
    const got = await answer(api.GET("/api/jobs/{id}/revisions/{revision}/summary", at(r)));
    if (chosen.value === r) then.value = got;
  } catch (e) {
    if (chosen.value === r) failed.value = told(e);
  }
}
async function bringBack(r: Revision) {
  const id = state.id;
  try {
    const got = await answer(api.GET("/api/jobs/{id}/revisions/{revision}", at(r)));
    // another job may have been opened meanwhile
    if (state.id !== id) return;
    store.edit(`bring back revision ${r.revision}`, (draft) => {
      for (const key of Object.keys(draft)) delete (draft as Record<string, unknown>)[key];
      Object.assign(draft, got.job as Job);
    });
    open.value = false;
  } catch (e) {
    failed.value = told(e);
  }
}
const when = (text: string) => new Date(text).toLocaleString("en-GB", { dateStyle: "medium", timeStyle: "short" });
const now = computed(() => {
  const d = design.value;
  if (!d) return null;
  const sum = (of: "errors" | "warnings") => d.stations.reduce((n, s) => n + s[of], 0);
  return { heat_loss_w: d.totals.heat_loss_w, loops: d.loops.length, supply_c: d.totals.supply_c, errors: sum("errors"), warnings: sum("warnings") };
});
type Figures = Pick<JobSummary, "heat_loss_w" | "loops" | "errors" | "warnings"> & { supply_c?: number | null };
const figures: [string, (of: Figures) => string][] = [
  ["Heat loss", (s) => show("heat", s.heat_loss_w, units.value)],
  ["Loops", (s) => String(s.loops)],
  ["Supply", (s) => show("temperature", s.supply_c, units.value)],
  ["Errors", (s) => String(s.errors)],
  ["Warnings", (s) => String(s.warnings)],
];
</script>

<template>
  <ElDrawer v-model="open" title="History of this job" size="min(440px, 100%)">
    <ElAlert v-if="failed" type="error" :title="failed" :closable="false" show-icon role="alert" />
    <ElSkeleton v-if="!rows && !failed" :rows="5" animated role="status" aria-label="Reading the history…" />
    <p v-if="rows" class="quiet">How it stood at the end of every stretch of work. Bringing one back is an edit: Undo takes it away again, and what is now stays in the history.</p>
    <ol v-if="rows" aria-label="Revisions">
      <li v-for="r in rows" :key="r.revision" :class="{ chosen: chosen?.revision === r.revision }">
        <div class="line">
          <span><b>{{ when(r.saved_at) }}</b><template v-if="r.who">, {{ r.who }}</template>: {{ r.damaged ? "does not read" : r.rooms === 1 ? "1 room" : `${r.rooms} rooms` }}<template v-if="r.revision === sync.state.revision"> (now)</template></span>
          <ElButton v-if="!r.damaged && r.revision !== sync.state.revision" size="small" :aria-label="`Compare ${when(r.saved_at)} with now`" @click="look(r)">Compare</ElButton>
        </div>
        <template v-if="chosen?.revision === r.revision">
          <ElSkeleton v-if="!then && !failed" :rows="2" animated role="status" aria-label="Calculating…" />
          <table v-else-if="then" class="grid-table" aria-label="Then and now">
            <thead><tr><th></th><th class="num">Then</th><th class="num">Now</th></tr></thead>
            <tbody><tr v-for="[name, cell] in figures" :key="name"><td>{{ name }}</td><td class="num">{{ cell(then) }}</td><td class="num">{{ now ? cell(now) : "–" }}</td></tr></tbody>
          </table>
          <ElButton v-if="mayChange" type="primary" size="small" @click="bringBack(r)">Bring this one back</ElButton>
        </template>
      </li>
    </ol>
  </ElDrawer>
</template>

<style scoped>
ol { list-style: none; padding: 0; margin: 8px 0; }
li { border-top: 1px solid var(--line); padding: 8px 0; }
li.chosen { background: var(--faint); padding: 8px; }
.line { display: flex; justify-content: space-between; gap: 10px; align-items: center; }
.quiet { color: var(--soft); }
table { margin: 8px 0; }
</style>
