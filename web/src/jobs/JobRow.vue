<script setup lang="ts">
/** A job in the list: its plan in small, what it is, how far it is, what its design comes to. */
import { CopyDocument, Delete, Download, Edit, Files, MoreFilled } from "@element-plus/icons-vue";
import { useElementVisibility } from "@vueuse/core";
import { computed, ref, watch } from "vue";
import { RouterLink } from "vue-router";
import type { JobEntry, JobSummary } from "../api/client";
import { usualUnits, viewer } from "../job/viewer";
import { useSession } from "../people/session";
import { show } from "../units";
import { STAGES } from "../words";

const props = defineProps<{ job: JobEntry; glance: JobSummary | undefined }>();
const emit = defineEmits<{ seen: []; rename: []; copy: []; archive: []; remove: [] }>();
const { mayChange } = useSession();
const row = ref<HTMLElement>();
const seen = useElementVisibility(row);
watch([seen, () => props.job.revision], ([is]) => is && emit("seen"), { immediate: true });

const units = computed(() => (viewer.units.value === "job" ? usualUnits() : viewer.units.value));
const where = computed(() => [props.job.customer, props.job.address || props.job.place].filter(Boolean).join(" · ") || "no place yet");
const when = computed(() => new Date(props.job.changed_at).toLocaleString(undefined, { dateStyle: "medium", timeStyle: "short" }));
const mark = computed(() => {
  const g = props.glance;
  if (!g) return null;
  if (g.errors) return { kind: "danger" as const, text: g.errors === 1 ? "1 error" : `${g.errors} errors` };
  if (g.warnings) return { kind: "warning" as const, text: g.warnings === 1 ? "1 warning" : `${g.warnings} warnings` };
  return g.loops ? { kind: "success" as const, text: "OK" } : { kind: "info" as const, text: STAGES[g.stage] };
});
function act(what: string) {
  if (what === "rename") emit("rename");
  else if (what === "copy") emit("copy");
  else if (what === "archive") emit("archive");
  // the server names the file, and the page stays
  else if (what === "download") location.assign(`/api/jobs/${props.job.id}/file`);
  else emit("remove");
}
</script>

<template>
  <li ref="row" class="row">
    <img class="plan" :src="`/api/jobs/${job.id}/thumbnail.svg?revision=${job.revision}`" alt="" loading="lazy" width="76" height="56" />
    <div class="what">
      <span v-if="job.damaged" class="name">{{ job.name }}</span>
      <RouterLink v-else class="name" :to="`/jobs/${job.id}/rooms`">{{ job.name }}</RouterLink>
      <span v-if="job.damaged" class="bad">Its document is damaged: restore it from a backup.</span>
      <span v-else class="soft">{{ where }}</span>
      <span v-if="!job.damaged" class="soft">{{ job.rooms }} {{ job.rooms === 1 ? "room" : "rooms" }} · saved {{ when }}</span>
    </div>
    <dl v-if="glance?.loops" class="figures">
      <div><dt>Load</dt><dd>{{ show("heat", glance.heat_loss_w, units) }}</dd></div>
      <div><dt>Loops</dt><dd>{{ glance.loops }}</dd></div>
      <div><dt>Supply</dt><dd>{{ show("temperature", glance.supply_c, units) }}</dd></div>
    </dl>
    <span v-else></span>
    <ElTag v-if="mark" class="mark" :type="mark.kind" effect="plain" disable-transitions>{{ mark.text }}</ElTag>
    <span v-else></span>
    <ElDropdown v-if="!job.damaged && mayChange" trigger="click" :teleported="true" @command="act">
      <ElButton text :icon="MoreFilled" :aria-label="`More of ${job.name}`" />
      <template #dropdown>
        <ElDropdownMenu>
          <ElDropdownItem command="rename" :icon="Edit">Rename</ElDropdownItem>
          <ElDropdownItem command="copy" :icon="CopyDocument">Copy</ElDropdownItem>
          <ElDropdownItem command="download" :icon="Download">Download</ElDropdownItem>
          <ElDropdownItem command="archive" :icon="Files">{{ job.archived ? "Take out of the archive" : "Archive" }}</ElDropdownItem>
          <ElDropdownItem command="remove" :icon="Delete" divided>Delete</ElDropdownItem>
        </ElDropdownMenu>
      </template>
    </ElDropdown>
  </li>
</template>

<style scoped>
.row { display: grid; grid-template-columns: 76px minmax(0, 1fr) auto auto auto; gap: 4px 18px; align-items: center; padding: 9px 6px; border-bottom: 1px solid var(--line); min-height: 74px; }
.row:hover { background: var(--sheet); }
.plan { width: 76px; height: 56px; object-fit: contain; background: var(--floor); border: 1px solid var(--line); border-radius: 3px; padding: 3px; }
.what { display: flex; flex-direction: column; min-width: 0; }
.what > * { overflow: hidden; text-overflow: ellipsis; white-space: nowrap; }
.name { font-size: 17px; font-weight: 600; color: var(--ink); text-decoration: none; }
.name:hover { color: var(--ember); text-decoration: underline; }
.soft { color: var(--soft); font-size: 13px; }
.bad { color: var(--ember); }
.figures { display: flex; gap: 18px; margin: 0; }
.figures div { display: flex; flex-direction: column; align-items: flex-end; }
dt { color: var(--soft); font-size: 12px; }
dd { margin: 0; font-weight: 600; }
.mark { min-width: 70px; }
@media (max-width: 700px) {
  .row { grid-template-columns: 60px minmax(0, 1fr) auto; }
  .plan { width: 60px; }
  .figures { grid-column: 2 / 4; }
  .mark { grid-column: 2; justify-self: start; }
  .row > .el-dropdown { grid-row: 1; grid-column: 3; }
}
</style>
