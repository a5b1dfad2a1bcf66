<script setup lang="ts">
/** Over every station: the job's name, whether it is saved, undo, units, theme. */
import { Clock, Link, Moon, RefreshLeft, RefreshRight, Sunny } from "@element-plus/icons-vue";
import { computed, ref } from "vue";
import { RouterLink } from "vue-router";
import { store } from "../job/store";
import type { SaveState } from "../job/sync";
import { viewer, type UnitsWanted } from "../job/viewer";
import ChoiceField from "../kit/ChoiceField.vue";
import AccountMenu from "../people/AccountMenu.vue";
import JobLinks from "../people/JobLinks.vue";
import { useSession } from "../people/session";
import OutboxSign from "./OutboxSign.vue";
import HistoryDrawer from "./HistoryDrawer.vue";
import { useTheme } from "./theme";

const { job, state, sync, live, designs, design, undoLabel, redoLabel } = store;
const { needed, mayChange } = useSession();
const history = ref(false);
const links = ref(false);
const { dark, toggle } = useTheme();
const KEPT = "Your edits are kept in this browser; trying again.";
const NOWHERE = "This browser cannot keep your edits either: leave this window open, or download them.";
const SAVED: Record<SaveState, string> = {
  saved: "Saved",
  saving: "Saving…",
  offline: "Not saved: the server does not answer.",
  failed: "Not saved:",
  conflict: "Not saved: changed elsewhere",
  refused: "Not saved:",
  gone: "Not saved: deleted elsewhere",
};
const saved = computed(() => {
  // nothing is said of a job that is not open yet
  if (!job.value) return "";
  if (state.offlineSince !== null) return `No connection: the job as it was here on ${new Date(state.offlineSince).toLocaleString()}. It can be read, not changed.`;
  const { save, problem, nowhere } = sync.state;
  const why = save === "failed" || save === "refused" ? (problem?.detail ?? "") : "";
  const kept = save === "offline" || save === "failed" ? (nowhere ? NOWHERE : KEPT) : "";
  return [SAVED[save], why, kept].filter(Boolean).join(" ");
});
const bad = computed(() => state.offlineSince !== null || !["saved", "saving"].includes(sync.state.save));
/** Figures that belong to the job as it was are never shown without a word. */
const behind = computed(() => (state.offlineSince !== null && designs.state.behind ? "The figures shown are those before your last edits." : designs.state.behind ? (design.value ? "Calculating… The figures shown are those before your last edits." : "Calculating…") : ""));
const UNITS = computed<Record<UnitsWanted, string>>(() => ({ job: `of the job: ${job.value?.site.units === "us" ? "US" : "metric"}`, metric: "metric", us: "US" }));

/** The job as it stands, as a file: for when nothing else keeps it. */
function download() {
  const link = document.createElement("a");
  link.href = URL.createObjectURL(new Blob([JSON.stringify(job.value)], { type: "application/json" }));
  link.download = `${job.value?.name ?? "job"}.json`;
  link.click();
  setTimeout(() => URL.revokeObjectURL(link.href), 1000);
}
</script>

<template>
  <header class="top no-print">
    <RouterLink to="/" class="home" aria-label="All jobs"><img src="/icon.svg" alt="" width="24" height="24" /></RouterLink>
    <h1>{{ job?.name ?? "Fuoco" }}</h1>
    <span class="save" :class="{ bad }" role="status">{{ saved }}</span>
    <ElButton v-if="bad && sync.state.nowhere" size="small" type="primary" @click="download">Download my edits</ElButton>
    <OutboxSign />
    <span class="behind" role="status">{{ behind }}</span>
    <span v-if="live.state.people.length" class="others" role="status" :title="`${live.state.people.join(', ')} ${live.state.people.length === 1 ? 'has' : 'have'} this job open`">{{ live.state.people.join(", ") }} {{ live.state.people.length === 1 ? "is" : "are" }} here</span>
    <span class="spacer"></span>
    <ElTooltip :trigger-keys="[]" :content="undoLabel ? `Undo: ${undoLabel} (Ctrl+Z)` : 'Nothing to undo'" :show-after="400">
      <span><ElButton text :icon="RefreshLeft" :disabled="!undoLabel" aria-label="Undo" @click="store.undo()">Undo</ElButton></span>
    </ElTooltip>
    <ElTooltip :trigger-keys="[]" :content="redoLabel ? `Redo: ${redoLabel} (Ctrl+Shift+Z)` : 'Nothing to redo'" :show-after="400">
      <span><ElButton text :icon="RefreshRight" :disabled="!redoLabel" aria-label="Redo" @click="store.redo()">Redo</ElButton></span>
    </ElTooltip>
    <ElTooltip :trigger-keys="[]" content="What the job was, and bringing it back" :show-after="400"><ElButton text :icon="Clock" :disabled="!job" aria-label="History" @click="history = true">History</ElButton></ElTooltip>
    <ElButton v-if="needed && mayChange" text :icon="Link" :disabled="!job" aria-label="Links" @click="links = true">Links</ElButton>
    <span class="units"><ChoiceField v-model="viewer.units.value" :options="UNITS" label="Units" :disabled="!job" /></span>
    <AccountMenu />
    <ElTooltip :trigger-keys="[]" :content="dark ? 'Light' : 'Dark'" :show-after="400"><ElButton text circle :icon="dark ? Sunny : Moon" :aria-label="dark ? 'Light theme' : 'Dark theme'" @click="toggle" /></ElTooltip>
    <HistoryDrawer v-model="history" />
    <JobLinks v-if="needed && mayChange" v-model="links" :job-id="state.id" />
  </header>
</template>

<style scoped>
.top { display: flex; align-items: center; gap: 10px; padding: 0 12px; border-bottom: 1px solid var(--line); min-width: 0; }
.top h1 { font-size: 16px; white-space: nowrap; overflow: hidden; text-overflow: ellipsis; }
.home { display: flex; }
.save { color: var(--soft); font-size: 13px; }
.save.bad { color: var(--ember); font-weight: 600; }
.behind:not(:empty) { font-size: 13px; padding: 1px 8px; border-radius: 3px; background: var(--ember-soft); white-space: nowrap; overflow: hidden; text-overflow: ellipsis; min-width: 0; }
.others { font-size: 13px; padding: 1px 8px; border-radius: 10px; border: 1px solid var(--line); white-space: nowrap; overflow: hidden; text-overflow: ellipsis; max-width: 220px; }
.spacer { flex: 1; }
.units { width: 136px; }
.top .el-button { margin: 0; padding: 8px 6px; }
@media (max-width: 900px) { .top { flex-wrap: wrap; padding: 6px 12px; } .top :deep(.el-button.is-text > span) { display: none; } .units { width: 120px; } }
</style>
