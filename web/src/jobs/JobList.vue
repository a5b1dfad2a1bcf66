<script setup lang="ts">
/** All jobs: found, sorted, opened, made, copied, renamed, put by, deleted with undo, kept as files. */
import { Plus, Search } from "@element-plus/icons-vue";
import { ElMessage } from "element-plus/es/components/message/index.mjs";
import "element-plus/es/components/message/style/css";
import { useLocalStorage } from "@vueuse/core";
import { computed, nextTick, onBeforeUnmount, onMounted, ref } from "vue";
import { useRouter } from "vue-router";
import { answer, api, sendFile, type Job, type JobEntry } from "../api/client";
import { told } from "../job/told";
import ChoiceField from "../kit/ChoiceField.vue";
import FilePick from "../kit/FilePick.vue";
import AccountMenu from "../people/AccountMenu.vue";
import { useSession } from "../people/session";
import { shelf } from "../offline/shelf";
import OutboxSign from "../shell/OutboxSign.vue";
import { useTheme } from "../shell/theme";
import { useGlances } from "./glance";
import JobRow from "./JobRow.vue";
import NewJob from "./NewJob.vue";

useTheme();
const router = useRouter();
const { mayChange } = useSession();
const jobs = ref<JobEntry[] | null>(null);
const failed = ref("");
const asking = ref<{ what: "copy" | "rename"; job: JobEntry } | null>(null);
const name = ref("");
const nameError = ref("");
const nameField = ref<{ focus(): void }>();
const newJob = ref<InstanceType<typeof NewJob>>();
const deleted = ref<JobEntry[]>([]);
const glances = useGlances();
let retry: ReturnType<typeof setTimeout> | undefined;

const search = ref("");
const SORTS = { changed: "saved last", name: "by name", customer: "by customer" } as const;
const sort = useLocalStorage<keyof typeof SORTS>("fuoco-jobs-sort", "changed");
const order = new Intl.Collator(undefined, { numeric: true });
const archive = ref(false);
const shown = computed(() => {
  const words = search.value.toLowerCase().split(/\s+/).filter(Boolean);
  const found = (jobs.value ?? []).filter((j) => Boolean(j.archived) === archive.value && words.every((w) => `${j.name} ${j.customer} ${j.address} ${j.place}`.toLowerCase().includes(w)));
  // the server lists what was saved last first
  if (sort.value === "changed") return found;
  const byName = (a: JobEntry, b: JobEntry) => order.compare(a.name, b.name);
  // those without a customer last
  return [...found].sort(sort.value === "name" ? byName : (a, b) => Number(!a.customer) - Number(!b.customer) || order.compare(a.customer ?? "", b.customer ?? "") || byName(a, b));
});
const archived = computed(() => (jobs.value ?? []).filter((j) => j.archived).length);

/** There is no network: these are the jobs that this browser can show. */
const unreached = ref(false);
async function showShelved() {
  const kept = await shelf.list();
  if (!kept.length) return;
  unreached.value = true;
  failed.value = "No connection. These jobs can be read, and records be written; the others are with the server.";
  jobs.value = kept.map(({ id, revision, job, at }) => ({ id, revision, name: job.name, changed_at: new Date(at).toISOString(), rooms: job.rooms.length, place: job.site.place ?? "", customer: job.customer ?? "", address: job.address ?? "" }));
}

async function load() {
  clearTimeout(retry);
  try {
    jobs.value = await answer(api.GET("/api/jobs"));
    failed.value = "";
    unreached.value = false;
  } catch {
    failed.value = "Fuoco's server does not answer. Trying again every few seconds.";
    if (!jobs.value || unreached.value) await showShelved();
    retry = setTimeout(() => void load(), 3000);
  }
}
onMounted(load);
onBeforeUnmount(() => clearTimeout(retry));

const failedWith = (e: unknown) => ElMessage.error(told(e, "Fuoco's server does not answer. Nothing was changed."));
async function attempt(what: () => Promise<void>) {
  try {
    await what();
  } catch (e) {
    failedWith(e);
  }
}
const show = (id: string) => router.push(`/jobs/${id}/rooms`);

function ask(what: "copy" | "rename", job: JobEntry) {
  asking.value = { what, job };
  name.value = what === "copy" ? `${job.name} (copy)` : job.name;
  nameError.value = "";
}
async function named() {
  const wanted = asking.value;
  const text = name.value.trim();
  if (!wanted) return;
  if (!text) return void (nameError.value = "A job needs a name.");
  await attempt(async () => {
    const path = { id: wanted.job.id };
    if (wanted.what === "copy") await answer(api.POST("/api/jobs/{id}/copy", { params: { path }, body: { name: text } }));
    else await answer(api.POST("/api/jobs/{id}/rename", { params: { path, query: { revision: wanted.job.revision } }, body: { name: text } }));
    asking.value = null;
    await load();
  });
}
const remove = (job: JobEntry) =>
  attempt(async () => {
    await answer(api.DELETE("/api/jobs/{id}", { params: { path: { id: job.id } } }));
    deleted.value.push(job);
    await load();
  });
const bringBack = (job: JobEntry) =>
  attempt(async () => {
    await answer(api.PUT("/api/jobs/{id}/restore", { params: { path: { id: job.id } } }));
    deleted.value = deleted.value.filter((d) => d.id !== job.id);
    await load();
  });
const putBy = (job: JobEntry) =>
  attempt(async () => {
    const params = { path: { id: job.id } };
    await answer(job.archived ? api.DELETE("/api/jobs/{id}/archive", { params }) : api.PUT("/api/jobs/{id}/archive", { params }));
    await load();
    if (!archived.value) archive.value = false;
  });

const LARGEST_JOB_MB = 4;
const openFile = (file: File) =>
  attempt(async () => {
    if (/\.zip$/i.test(file.name)) return void (await show((await sendFile<{ id: string }>("/api/jobs/from-bundle", file, "application/zip")).id));
    if (file.size > LARGEST_JOB_MB * 1024 * 1024) return void ElMessage.error(`${file.name} is larger than the ${LARGEST_JOB_MB} MB a job may have.`);
    let body: Job;
    try {
      body = JSON.parse(await file.text()) as Job;
    } catch {
      return void ElMessage.error(`${file.name} is not a job file: it does not read as JSON.`);
    }
    await show((await answer(api.POST("/api/jobs/from-file", { body }))).id);
  });
const titles = { copy: "Copy of the job", rename: "Rename the job" };
</script>

<template>
  <main class="jobs">
    <header>
      <h1><img src="/icon.svg" alt="" width="26" height="26" /> Fuoco</h1>
      <p class="lead">Radiant floors, from the survey to the loop sheet.</p>
      <div class="actions">
        <OutboxSign />
        <AccountMenu />
        <template v-if="mayChange">
        <ElButton @click="router.push('/practice')">Practice</ElButton>
        <ElButton @click="router.push('/firm')">Firm</ElButton>
        <ElButton type="primary" :icon="Plus" @click="newJob?.ask()">New job</ElButton>
        <FilePick label="Job file" accept=".json,.zip,application/json,application/zip" large @take="openFile">Open a file</FilePick>
        </template>
      </div>
    </header>
    <div v-if="jobs === null || jobs.length" class="find">
      <ElInput v-model="search" :prefix-icon="Search" clearable placeholder="Name, customer, address" aria-label="Search the jobs" />
      <ChoiceField v-model="sort" :options="SORTS" label="Order of the jobs" />
      <ElButton v-if="archived" :type="archive ? 'primary' : 'default'" :aria-pressed="archive" @click="archive = !archive">Archive ({{ archived }})</ElButton>
    </div>
    <ElAlert v-if="failed" type="error" :title="failed" :closable="false" show-icon />
    <p v-for="job in deleted" :key="job.id" class="banner" role="status">
      “{{ job.name }}” was deleted.
      <ElButton link type="primary" @click="bringBack(job)">Undo</ElButton>
    </p>
    <ElSkeleton v-if="jobs === null && !failed" :rows="5" animated role="status" aria-label="Reading the list of jobs…" />
    <ElEmpty v-else-if="jobs?.length === 0" :image-size="70" description="No jobs yet. Start one, or open a job file from a colleague." />
    <p v-else-if="jobs && !shown.length" class="quiet" role="status">{{ search ? `No job has “${search}”.` : "No jobs here." }}</p>
    <ul v-if="shown.length" class="list" aria-label="Jobs">
      <JobRow
        v-for="job in shown" :key="job.id" :job="job" :glance="glances.of(job)" @seen="glances.want(job)"
        @rename="ask('rename', job)" @copy="ask('copy', job)" @archive="putBy(job)" @remove="remove(job)" />
    </ul>
    <footer v-if="jobs !== null || failed">
      Figures are design aids. Follow local code and the manufacturer's instructions; gas, flue and electric
      work belongs to licensed trades.
    </footer>
    <NewJob ref="newJob" @made="show" @failed="failedWith" />
    <ElDialog :model-value="asking !== null" :title="asking ? titles[asking.what] : ''" width="min(420px, 94vw)" @opened="nextTick(() => nameField?.focus())" @close="asking = null">
      <form id="name-form" @submit.prevent="named">
        <label for="other-name">Name</label>
        <ElInput id="other-name" ref="nameField" v-model="name" maxlength="200" />
        <p v-if="nameError" class="error" role="alert">{{ nameError }}</p>
      </form>
      <template #footer>
        <ElButton @click="asking = null">Cancel</ElButton>
        <ElButton type="primary" native-type="submit" form="name-form">{{ asking?.what === "rename" ? "Rename" : "Create" }}</ElButton>
      </template>
    </ElDialog>
  </main>
</template>

<style scoped>
.jobs { max-width: 980px; min-height: 100vh; margin: 0 auto; padding: 36px 24px 24px; display: flex; flex-direction: column; }
header { display: grid; grid-template-columns: 1fr auto; align-items: end; margin-bottom: 18px; }
h1 { display: flex; align-items: center; gap: 10px; }
.lead { grid-row: 2; color: var(--soft); margin: 4px 0 0; }
.actions { grid-row: 1 / 3; grid-column: 2; display: flex; flex-wrap: wrap; gap: 8px; }
.find { display: flex; gap: 10px; align-items: center; margin-bottom: 10px; flex-wrap: wrap; }
.find > .el-input { flex: 1 1 240px; }
.find > .choice { width: 150px; }
.banner { background: var(--ember-soft); padding: 8px 12px; border-left: 3px solid var(--ember); }
.quiet { color: var(--soft); padding: 24px 0; }
.list { list-style: none; margin: 0; padding: 0; border-top: 1px solid var(--line); }
.error { color: var(--ember); margin: 6px 0 0; }
footer { margin-top: auto; padding-top: 28px; color: var(--soft); font-size: 13px; }
@media (max-width: 640px) {
  header { grid-template-columns: 1fr; }
  .actions { grid-column: 1; grid-row: auto; margin-top: 8px; }
}
</style>
