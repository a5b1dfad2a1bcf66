<script setup lang="ts">
/** The job was saved or deleted elsewhere since: what becomes of what was edited here. */
import { computed, ref } from "vue";
import { useRouter } from "vue-router";
import { store } from "../job/store";
import type { Settlement } from "../job/sync";

const router = useRouter();
const { sync } = store;
const busy = ref<Settlement | "">("");
const failed = ref(false);
const gone = computed(() => sync.state.save === "gone");
/** "Studio A: design temperature": where both changed the same, as people call it. */
const both = computed(() => {
  const words = sync.state.conflicts.map((path) => {
    const id = /\[([^\]]+)\]/.exec(path)?.[1];
    const what = path.split(".").pop()!.replace(/\[.*$/, "").replace(/_(m|c|w|k|pa|m2k_w|l_min)$/, "").replaceAll("_", " ");
    const name = store.job.value?.rooms.find((r) => r.id === id)?.name;
    return name ? `${name}${path.includes("].") ? `: ${what}` : ""}` : what;
  });
  return [...new Set(words)].slice(0, 5).join("; ");
});
const shown = computed(() => sync.state.save === "conflict" || gone.value);

async function settle(how: Settlement) {
  busy.value = how;
  failed.value = false;
  try {
    const id = await store.resolveConflict(how);
    if (!id) await router.push("/");
    else if (id !== store.state.id) await router.push(`/jobs/${id}/rooms`);
  } catch {
    failed.value = true;
  } finally {
    busy.value = "";
  }
}
</script>

<template>
  <ElDialog :model-value="shown" :title="gone ? 'This job was deleted elsewhere' : 'This job was changed elsewhere'" width="min(520px, 94vw)" :show-close="false" :close-on-click-modal="false" :close-on-press-escape="false">
    <p v-if="gone">Another window or person deleted this job while it was open here. Your version of it is still complete. What do you want to do?</p>
    <p v-else>Another window or person saved this job after you opened it (revision {{ sync.state.theirRevision ?? "?" }}; yours began at {{ sync.state.revision }}). Nothing of yours is lost, and nothing of theirs has been overwritten.<template v-if="both"> You both changed {{ both }}.</template> What do you want to do?</p>
    <p v-if="failed" class="wrong" role="alert">The server does not answer: nothing has happened yet.</p>
    <template #footer>
      <div class="choices">
        <ElButton type="primary" :loading="busy === 'copy'" @click="settle('copy')">Keep mine as a new job</ElButton>
        <ElButton :loading="busy === 'theirs'" @click="settle('theirs')">{{ gone ? "Discard mine" : "Take theirs, drop mine" }}</ElButton>
        <ElButton :loading="busy === 'mine'" @click="settle('mine')">{{ gone ? "Bring it back with my edits" : both ? "Keep both; mine where we changed the same" : "Replace theirs with mine" }}</ElButton>
      </div>
    </template>
  </ElDialog>
</template>

<style scoped>
.choices { display: flex; flex-direction: column; gap: 8px; align-items: stretch; }
.choices .el-button { margin: 0; white-space: normal; height: auto; min-height: 34px; }
.wrong { color: var(--ember); font-weight: 600; }
</style>
