<script setup lang="ts">
/** The firm: what stands on its papers, and what new jobs begin with. */
import { Delete } from "@element-plus/icons-vue";
import { ElMessage } from "element-plus/es/components/message/index.mjs";
import "element-plus/es/components/message/style/css";
import { computed, onMounted, ref } from "vue";
import { answer, api, Refused, type Firm, type HouseRules, type JobEntry } from "../api/client";
import { told } from "../job/told";
import { usualUnits, viewer } from "../job/viewer";
import ChoiceField from "../kit/ChoiceField.vue";
import FilePick from "../kit/FilePick.vue";
import { useTheme } from "../shell/theme";
import { show } from "../units";
import { CONTROLS, MIXINGS } from "../words";
import { fileOf, jobChoices, kept, ownProducts, type OwnProduct } from "./firm";

useTheme();
const firm = ref<Firm | null>(null);
const failed = ref("");
const name = ref("");
const lines = ref("");
const jobs = ref<JobEntry[]>([]);
const from = ref<string>();
const schools = ref<HouseRules[]>([]);
const units = computed(() => (viewer.units.value === "job" ? usualUnits() : viewer.units.value));
let revision = 0;
/** One thing at a time: the next one begins with the revision that this one leaves. */
const busy = ref(false);

const linesOf = (of: Firm | null) => (of?.lines ?? []).join("\n");
function take(of: { revision: number; firm: Firm }) {
  // what is being typed stays
  if (name.value === (firm.value?.name ?? "")) name.value = of.firm.name ?? "";
  if (lines.value === linesOf(firm.value)) lines.value = linesOf(of.firm);
  revision = of.revision;
  firm.value = of.firm;
}
async function load() {
  try {
    take(await answer(api.GET("/api/firm")));
    [jobs.value, schools.value] = await Promise.all([answer(api.GET("/api/jobs")), answer(api.GET("/api/schools", { params: { query: { units: units.value } } }))]);
    failed.value = "";
  } catch (e) {
    failed.value = told(e, "Fuoco's server does not answer.");
  }
}
onMounted(load);

/** Does it and says so; what another window has changed in between is shown, and nothing of it is overwritten. */
async function attempt(what: () => Promise<void>, done: string) {
  if (busy.value) return;
  busy.value = true;
  try {
    await what();
    ElMessage.success(done);
  } catch (e) {
    const stale = e instanceof Refused && e.problem.status === 409;
    if (stale) await load();
    ElMessage.error(stale ? `The firm was changed in another window, where its name is “${firm.value?.name ?? ""}”. What you typed is still here: look at it, and do it again.` : told(e, "Fuoco's server does not answer. Nothing was changed."));
  } finally {
    busy.value = false;
  }
}
const save = (changed: Partial<Firm>, done: string) =>
  attempt(async () => {
    const next: Firm = { ...firm.value!, ...changed };
    take({ firm: next, revision: (await answer(api.PUT("/api/firm", { params: { query: { revision } }, body: next }))).revision });
  }, done);

const saveName = () => {
  // as they will be stored, so that they count as saved
  name.value = name.value.trim();
  const clean = lines.value.split("\n").map((l) => l.trim()).filter(Boolean);
  lines.value = clean.join("\n");
  return save({ name: name.value, lines: clean }, "Name and address are saved.");
};
const school = computed(() => firm.value?.rules?.name);
const choose = (wanted: string | undefined) => save({ rules: schools.value.find((s) => s.name === wanted) }, wanted ? "New jobs begin with these rules." : "New jobs begin with ordinary practice.");
const keep = () =>
  attempt(async () => take(await answer(api.POST("/api/firm/take", { body: { job_id: from.value!, revision } }))), "New jobs begin as this one is.");
const forget = () => save({ rules: undefined, purchasing: undefined, materials: [], constructions: [], build_ups: [], tubes: [], coverings: [], pumps: [], sources: [] }, "New jobs begin with what is usual.");

function download() {
  const link = document.createElement("a");
  link.href = URL.createObjectURL(new Blob([fileOf(firm.value!)], { type: "application/json" }));
  link.download = "firm.json";
  link.click();
  URL.revokeObjectURL(link.href);
}
async function open(file: File) {
  let read: Firm;
  try {
    read = JSON.parse(await file.text()) as Firm;
  } catch {
    return void ElMessage.error(`${file.name} is not a firm's file: it does not read as JSON.`);
  }
  await attempt(async () => {
    take({ firm: read, revision: (await answer(api.PUT("/api/firm", { params: { query: { revision } }, body: read }))).revision });
    await load();
  }, "The firm of the file is taken.");
}
const own = computed(() => (firm.value ? ownProducts(firm.value, units.value) : []));
const drop = (p: OwnProduct) => save({ [p.list]: firm.value![p.list]!.filter((_, i) => i !== p.at) }, `${p.name} is no longer given to new jobs.`);
const rulesOf = computed(() => firm.value?.rules);
</script>

<template>
  <main class="firm">
    <header>
      <h1>Firm</h1>
      <p class="lead">What stands on your papers, and what new jobs begin with. Jobs that are there stay as they are.</p>
      <RouterLink to="/">All jobs</RouterLink>
    </header>
    <ElAlert v-if="failed" type="error" :title="failed" :closable="false" show-icon />
    <template v-if="firm">
      <section aria-labelledby="on-papers">
        <h2 id="on-papers">On papers</h2>
        <form @submit.prevent="saveName">
          <label for="firm-name">Name</label>
          <ElInput id="firm-name" v-model="name" maxlength="200" />
          <label for="firm-lines">Address, telephone: a line each</label>
          <ElInput id="firm-lines" v-model="lines" type="textarea" :rows="3" maxlength="1600" />
          <ElButton type="primary" native-type="submit" :disabled="busy">Save</ElButton>
        </form>
      </section>
      <section aria-labelledby="by-rules">
        <h2 id="by-rules">Rules of new jobs</h2>
        <p>Practitioners disagree; begin with the school that is yours, and change a job's rules where you do otherwise.</p>
        <ChoiceField :model-value="school" :options="[...schools.map((s) => ({ value: s.name, text: s.name })), ...(school && !schools.some((s) => s.name === school) ? [{ value: school, text: school }] : [])]" label="Rules of new jobs" empty="Ordinary practice in the job's units" @update:model-value="choose" />
        <dl v-if="rulesOf">
          <dt>Why</dt><dd>{{ rulesOf.reason || "–" }}</dd>
          <dt>Spacings</dt><dd>{{ rulesOf.spacings_m.map((m) => show("size", m, units)).join(", ") }}</dd>
          <dt>Longest loop</dt><dd>{{ Object.keys(rulesOf.longest_loop_m ?? {}).length ? Object.entries(rulesOf.longest_loop_m!).map(([id, m]) => `${id}: ${show("tube", m, units)}`).join(", ") : "by tube, from the library" }}</dd>
          <dt>Temperature drop</dt><dd>{{ show("difference", rulesOf.temperature_drop_k, units) }}, at most {{ show("difference", rulesOf.largest_drop_k, units) }}</dd>
          <dt>Balancing</dt><dd>{{ rulesOf.equal_loops ? "equal loops, no valves" : "valves and flow meters" }}</dd>
          <dt>Pump</dt><dd>{{ CONTROLS[rulesOf.pump_control ?? "constant_pressure"] }}</dd>
          <dt>Mixing</dt><dd>{{ MIXINGS[rulesOf.mixing ?? "three_way"] }}</dd>
        </dl>
      </section>
      <section aria-labelledby="by-job">
        <h2 id="by-job">As a job is done</h2>
        <p>Keep a job's rules, coils, fixings, prices, rates of work, terms, own build-ups and constructions, own tubes, coverings, pumps and sources for new jobs.</p>
        <div class="row">
          <ChoiceField v-model="from" :options="jobChoices(jobs)" label="Job to keep for new ones" empty="Choose a job" />
          <ElButton :disabled="!from || busy" @click="keep">Keep for new jobs</ElButton>
          <ElButton v-if="kept(firm).length" :disabled="busy" @click="forget">Forget</ElButton>
        </div>
        <ul v-if="kept(firm).length" aria-label="Kept for new jobs"><li v-for="line in kept(firm)" :key="line">{{ line }}</li></ul>
        <p v-else class="quiet">Nothing is kept: new jobs begin with what is usual.</p>
      </section>
      <section v-if="own.length" aria-labelledby="own-products">
        <h2 id="own-products">Own products</h2>
        <p>New jobs can choose them beside the library's. They are typed in a job, below its plan at Floor and Plant, and kept from there.</p>
        <div class="scroll" tabindex="0" role="region" aria-label="Own products">
          <table class="grid-table">
            <thead><tr><th>Kind</th><th>Name</th><th>Figures</th><th></th></tr></thead>
            <tbody>
              <tr v-for="p in own" :key="`${p.list}-${p.at}`">
                <td>{{ p.kind }}</td><td>{{ p.name }}</td><td>{{ p.figures }}</td>
                <td><ElButton link size="small" :icon="Delete" :disabled="busy" :aria-label="`Delete ${p.name}`" @click="drop(p)" /></td>
              </tr>
            </tbody>
          </table>
        </div>
      </section>
      <section aria-labelledby="as-file">
        <h2 id="as-file">As a file</h2>
        <p>For another machine or a colleague.</p>
        <div class="row">
          <ElButton @click="download">Download firm.json</ElButton>
          <FilePick label="Firm's file" accept=".json,application/json" large @take="open">Open a file</FilePick>
        </div>
      </section>
    </template>
    <ElSkeleton v-else-if="!failed" :rows="5" animated role="status" aria-label="Reading the firm…" />
  </main>
</template>

<style scoped>
.firm { max-width: 760px; margin: 0 auto; padding: 36px 24px; }
header { margin-bottom: 12px; }
.lead, .quiet { color: var(--soft); }
section { border-top: 1px solid var(--line); padding: 14px 0 18px; }
h2 { font-size: 17px; margin: 0 0 6px; }
p { margin: 4px 0 8px; }
form { display: grid; grid-template-columns: minmax(110px, 30%) minmax(0, 1fr); gap: 8px 12px; align-items: start; }
form .el-button { grid-column: 2; justify-self: start; }
dl { display: grid; grid-template-columns: minmax(110px, 24%) minmax(0, 1fr); gap: 3px 12px; margin: 10px 0 0; }
dt { color: var(--soft); }
dd { margin: 0; }
.scroll { overflow-x: auto; }
.row { display: flex; flex-wrap: wrap; gap: 8px; align-items: center; }
.row > .choice { width: min(320px, 100%); }
ul { margin: 10px 0 0; padding-left: 20px; }
</style>
