<script setup lang="ts">
/** All jobs: open, make, copy, rename, delete with undo, keep as a file, open a file. */
import { ElMessage } from "element-plus/es/components/message/index.mjs";
import "element-plus/es/components/message/style/css";
import { onBeforeUnmount, onMounted, ref } from "vue";
import { RouterLink, useRouter } from "vue-router";
import { answer, api, sendFile, Refused, type Job, type JobEntry } from "../api/client";

const router = useRouter();
const jobs = ref<JobEntry[] | null>(null);
const failed = ref("");
const asking = ref<{ what: "new" | "copy" | "rename"; job?: JobEntry } | null>(null);
const name = ref("");
const nameError = ref("");
const nameField = ref<{ focus(): void }>();
const filePicker = ref<HTMLInputElement>();
const deleted = ref<JobEntry[]>([]);
let retry: ReturnType<typeof setTimeout> | undefined;

async function load() {
  clearTimeout(retry);
  try {
    jobs.value = await answer(api.GET("/api/jobs"));
    failed.value = "";
  } catch {
    failed.value = "Fuoco's server does not answer. Trying again every few seconds.";
    retry = setTimeout(() => void load(), 3000);
  }
}
onMounted(load);
onBeforeUnmount(() => clearTimeout(retry));

async function attempt(what: () => Promise<void>) {
  try {
    await what();
  } catch (e) {
    ElMessage.error(e instanceof Refused ? e.message : "Fuoco's server does not answer. Nothing was changed.");
  }
}

function ask(what: "new" | "copy" | "rename", job?: JobEntry) {
  asking.value = { what, job };
  name.value = what === "new" ? "" : what === "copy" ? `${job?.name} (copy)` : (job?.name ?? "");
  nameError.value = "";
}

async function named() {
  const wanted = asking.value;
  const text = name.value.trim();
  if (!wanted) return;
  if (!text) {
    nameError.value = "A job needs a name.";
    return;
  }
  await attempt(async () => {
    if (wanted.what === "new") {
      const added = await answer(api.POST("/api/jobs", { body: { name: text } }));
      await router.push(`/jobs/${added.id}/rooms`);
      return;
    }
    const path = { id: wanted.job!.id };
    if (wanted.what === "copy") await answer(api.POST("/api/jobs/{id}/copy", { params: { path }, body: { name: text } }));
    else
      await answer(
        api.POST("/api/jobs/{id}/rename", { params: { path, query: { revision: wanted.job!.revision } }, body: { name: text } }),
      );
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

async function openFile(event: Event) {
  const input = event.target as HTMLInputElement;
  const file = input.files?.[0];
  input.value = "";
  if (!file) return;
  await attempt(async () => {
    if (/\.zip$/i.test(file.name)) {
      const added = await sendFile<{ id: string }>("/api/jobs/from-bundle", file, "application/zip");
      await router.push(`/jobs/${added.id}/rooms`);
      return;
    }
    if (file.size > 4 * 1024 * 1024) {
      ElMessage.error(`${file.name} is larger than the 4 MB a job may have.`);
      return;
    }
    let body: Job;
    try {
      body = JSON.parse(await file.text()) as Job;
    } catch {
      ElMessage.error(`${file.name} is not a job file: it does not read as JSON.`);
      return;
    }
    const added = await answer(api.POST("/api/jobs/from-file", { body }));
    await router.push(`/jobs/${added.id}/rooms`);
  });
}

const when = (iso: string) => new Date(iso).toLocaleString(undefined, { dateStyle: "medium", timeStyle: "short" });
const titles = { new: "New job", copy: "Copy of the job", rename: "Rename the job" };
</script>

<template>
  <main class="jobs">
    <header>
      <h1><img src="/icon.svg" alt="" width="26" height="26" /> Fuoco</h1>
      <p class="lead">Radiant floors, from the survey to the loop sheet.</p>
      <div class="actions">
        <ElButton type="primary" @click="ask('new')">New job</ElButton>
        <ElButton @click="filePicker?.click()">Open a file</ElButton>
        <input ref="filePicker" type="file" accept=".json,.zip,application/json,application/zip" class="visually-hidden" tabindex="-1" aria-label="Job file" @change="openFile" />
      </div>
    </header>
    <p v-if="failed" class="banner" role="alert">{{ failed }}</p>
    <p v-for="job in deleted" :key="job.id" class="banner" role="status">
      “{{ job.name }}” was deleted.
      <ElButton link type="primary" @click="bringBack(job)">Undo</ElButton>
    </p>
    <p v-if="jobs === null && !failed" class="quiet">Reading the list of jobs…</p>
    <p v-else-if="jobs?.length === 0" class="quiet">
      No jobs yet. Start one with <b>New job</b>, or open a job file from a colleague.
    </p>
    <ul v-else class="list">
      <li v-for="job in jobs" :key="job.id">
        <span v-if="job.damaged" class="name">{{ job.name }}</span>
        <RouterLink v-else class="name" :to="`/jobs/${job.id}/rooms`">{{ job.name }}</RouterLink>
        <span v-if="job.damaged" class="facts error">Its document is damaged: restore it from a backup.</span>
        <span v-else class="facts">
          {{ job.place || "no place yet" }} · {{ job.rooms }} {{ job.rooms === 1 ? "room" : "rooms" }} · saved
          {{ when(job.changed_at) }}
        </span>
        <span v-if="!job.damaged" class="tools">
          <ElButton link type="primary" :aria-label="`Rename ${job.name}`" @click="ask('rename', job)">Rename</ElButton>
          <ElButton link type="primary" :aria-label="`Copy ${job.name}`" @click="ask('copy', job)">Copy</ElButton>
          <a :href="`/api/jobs/${job.id}/file`" download :aria-label="`Download ${job.name}`">Download</a>
          <ElButton link type="primary" :aria-label="`Delete ${job.name}`" @click="remove(job)">Delete</ElButton>
        </span>
      </li>
    </ul>
    <footer>
      Figures are design aids. Follow local code and the manufacturer's instructions; gas, flue and electric
      work belongs to licensed trades.
    </footer>
    <ElDialog :model-value="asking !== null" :title="asking ? titles[asking.what] : ''" width="420" @opened="nameField?.focus()" @close="asking = null">
      <form id="name-form" @submit.prevent="named">
        <label for="job-name">Name</label>
        <ElInput id="job-name" ref="nameField" v-model="name" maxlength="200" />
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
.jobs { max-width: 860px; margin: 0 auto; padding: 40px 24px; }
header { display: grid; grid-template-columns: 1fr auto; align-items: end; margin-bottom: 20px; }
h1 { display: flex; align-items: center; gap: 10px; }
.lead { grid-row: 2; color: var(--soft); margin: 4px 0 0; }
.actions { grid-row: 1 / 3; grid-column: 2; }
.banner { background: var(--ember-soft); padding: 8px 12px; border-left: 3px solid var(--ember); }
.quiet { color: var(--soft); padding: 24px 0; }
.list { list-style: none; margin: 0; padding: 0; border-top: 1px solid var(--line); }
.list li { display: grid; grid-template-columns: 1fr auto; padding: 10px 4px; border-bottom: 1px solid var(--line); gap: 2px 16px; }
.name { font-size: 17px; font-weight: 600; color: var(--ink); text-decoration: none; }
.name:hover { color: var(--ember); text-decoration: underline; }
.facts { grid-column: 1; color: var(--soft); }
.tools { grid-column: 2; grid-row: 1 / 3; display: flex; gap: 14px; align-items: center; }
.error { color: var(--ember); margin: 6px 0 0; }
footer { margin-top: 28px; color: var(--soft); font-size: 13px; }
@media (max-width: 640px) {
  header, .list li { grid-template-columns: 1fr; }
  .actions, .tools { grid-column: 1; grid-row: auto; margin-top: 8px; }
}
</style>
