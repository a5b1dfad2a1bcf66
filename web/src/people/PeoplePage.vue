<script setup lang="ts">
/** Who may sign in, what they may do, and what was done. */
import { Delete, Key, Plus } from "@element-plus/icons-vue";
import { ElMessage } from "element-plus/es/components/message/index.mjs";
import "element-plus/es/components/message/style/css";
import { onMounted, ref } from "vue";
import { answer, api, Refused, type Deed, type Person, type Role } from "../api/client";
import { told } from "../job/told";
import ChoiceField from "../kit/ChoiceField.vue";
import { useTheme } from "../shell/theme";
import { ROLES, ROLES_DO } from "../words";

useTheme();
const people = ref<Person[] | null>(null);
const deeds = ref<Deed[]>([]);
const failed = ref("");
const busy = ref(false);
const fresh = ref({ name: "", role: "designer" as Role, password: "" });
const wrong = ref<{ field: string; reason: string } | null>(null);
/** Whose password is being given. */
const giving = ref<Person | null>(null);
const given = ref("");
/** Who is being taken off the list. */
const leaving = ref<Person | null>(null);

async function load() {
  try {
    [people.value, deeds.value] = await Promise.all([answer(api.GET("/api/people")), answer(api.GET("/api/deeds"))]);
    failed.value = "";
  } catch (e) {
    failed.value = told(e);
  }
}
onMounted(load);

async function attempt(what: () => Promise<unknown>, done: string): Promise<boolean> {
  busy.value = true;
  wrong.value = null;
  try {
    await what();
    ElMessage.success(done);
    await load();
    return true;
  } catch (e) {
    if (e instanceof Refused && e.problem.field) wrong.value = { field: e.problem.field, reason: e.problem.detail };
    else ElMessage.error(told(e));
    return false;
  } finally {
    busy.value = false;
  }
}
async function add() {
  const { name } = fresh.value;
  if (await attempt(() => answer(api.POST("/api/people", { body: fresh.value })), `${name} may sign in.`)) fresh.value = { name: "", role: "designer", password: "" };
}
const change = (p: Person, body: { role?: Role; password?: string }, done: string) => attempt(() => answer(api.PUT("/api/people/{id}", { params: { path: { id: p.id } }, body })), done);
async function give() {
  const p = giving.value!;
  if (await change(p, { password: given.value }, `${p.name} has another password, and is signed out everywhere.`)) giving.value = null;
}
async function leave() {
  const p = leaving.value!;
  leaving.value = null;
  await attempt(() => answer(api.DELETE("/api/people/{id}", { params: { path: { id: p.id } } })), `${p.name} may no longer sign in.`);
}
function suggest(): string {
  // words are typed on phones too: letters that are not taken for each other
  const letters = "abcdefghkmnpqrstuvwxyz23456789";
  const random = crypto.getRandomValues(new Uint8Array(16));
  return Array.from(random, (b, i) => (i && i % 4 === 0 ? "-" : "") + letters[b % letters.length]!).join("");
}
const when = (at: string) => new Date(at).toLocaleString("en-GB", { dateStyle: "medium", timeStyle: "short" });
</script>

<template>
  <main class="people">
    <header>
      <h1>People</h1>
      <p class="lead">Who may sign in to this server, and what they may do.</p>
      <RouterLink to="/">All jobs</RouterLink>
    </header>
    <ElAlert v-if="failed" type="error" :title="failed" :closable="false" show-icon role="alert" />
    <template v-if="people">
      <div class="scroll" tabindex="0" role="region" aria-label="Table of people">
        <table class="grid-table">
          <thead><tr><th>Name</th><th>Role</th><th>Since</th><th></th></tr></thead>
          <tbody>
            <tr v-for="p in people" :key="p.id">
              <td>{{ p.name }}</td>
              <td class="role"><ChoiceField :model-value="p.role" :options="ROLES" :label="`Role of ${p.name}`" :disabled="busy" @update:model-value="change(p, { role: $event as Role }, `${p.name}: ${ROLES[$event as Role]}.`)" /></td>
              <td>{{ when(p.created_at) }}</td>
              <td class="acts">
                <ElButton link size="small" :icon="Key" :disabled="busy" :aria-label="`Another password for ${p.name}`" title="Another password" @click="(giving = p), (given = suggest())" />
                <ElButton link size="small" :icon="Delete" :disabled="busy" :aria-label="`Take ${p.name} off the list`" title="Take off the list" @click="leaving = p" />
              </td>
            </tr>
          </tbody>
        </table>
      </div>
      <p v-if="wrong?.field === 'role'" class="wrong" role="alert">{{ wrong.reason }}</p>
      <dl class="roles"><template v-for="(does, role) in ROLES_DO" :key="role"><dt>{{ ROLES[role] }}</dt><dd>{{ does }}</dd></template></dl>
      <section aria-labelledby="new-person">
        <h2 id="new-person">Somebody new</h2>
        <form @submit.prevent="add">
          <label for="new-name">Name</label><ElInput id="new-name" v-model="fresh.name" maxlength="60" autocomplete="off" />
          <span class="label">Role</span><ChoiceField v-model="fresh.role" :options="ROLES" label="Role of the new person" />
          <label for="new-password">First password</label>
          <span class="pass"><ElInput id="new-password" v-model="fresh.password" maxlength="200" autocomplete="off" /><ElButton @click="fresh.password = suggest()">Make one up</ElButton></span>
          <p v-if="wrong && giving === null && wrong.field !== 'role'" class="wrong" role="alert">{{ wrong.reason }}</p>
          <ElButton type="primary" native-type="submit" :icon="Plus" :disabled="busy || !fresh.name.trim() || !fresh.password">Let them sign in</ElButton>
        </form>
      </section>
      <section aria-labelledby="deeds">
        <h2 id="deeds">Who did what</h2>
        <div class="scroll tall" tabindex="0" role="region" aria-label="Table of who did what">
          <table class="grid-table">
            <thead><tr><th>When</th><th>Who</th><th>What</th><th></th></tr></thead>
            <tbody><tr v-for="(d, i) in deeds" :key="i"><td>{{ when(d.at) }}</td><td>{{ d.who }}</td><td>{{ d.what }}</td><td>{{ d.detail }}</td></tr></tbody>
          </table>
        </div>
      </section>
    </template>
    <ElSkeleton v-else-if="!failed" :rows="5" animated role="status" aria-label="Reading the list…" />
    <ElDialog :model-value="giving !== null" :title="`Another password for ${giving?.name}`" width="420" @close="giving = null">
      <p>Tell it to them in person; they can change it when they have signed in. They are signed out everywhere.</p>
      <ElInput v-model="given" aria-label="The new password" maxlength="200" />
      <p v-if="wrong" class="wrong" role="alert">{{ wrong.reason }}</p>
      <template #footer><ElButton @click="giving = null">Cancel</ElButton><ElButton type="primary" :disabled="busy || !given" @click="give">Give it</ElButton></template>
    </ElDialog>
    <ElDialog :model-value="leaving !== null" :title="`Take ${leaving?.name} off the list?`" width="420" @close="leaving = null">
      <p>They are signed out at once. What they did to jobs stays, under their name.</p>
      <template #footer><ElButton @click="leaving = null">Cancel</ElButton><ElButton type="primary" @click="leave">Take off the list</ElButton></template>
    </ElDialog>
  </main>
</template>

<style scoped>
.people { max-width: 820px; margin: 0 auto; padding: 36px 24px; }
.lead { color: var(--soft); }
h2 { font-size: 17px; margin: 0 0 6px; }
section { border-top: 1px solid var(--line); padding: 14px 0 18px; }
form { display: grid; grid-template-columns: minmax(110px, 30%) minmax(0, 1fr); gap: 8px 12px; align-items: center; }
form > .el-button, form > .wrong { grid-column: 2; justify-self: start; }
.pass { display: flex; gap: 8px; }
.label { color: var(--soft); font-size: 14px; }
.role { min-width: 130px; }
.acts { white-space: nowrap; }
.roles { display: grid; grid-template-columns: minmax(110px, 20%) minmax(0, 1fr); gap: 2px 12px; color: var(--soft); }
dd { margin: 0; }
.scroll { overflow-x: auto; }
.tall { max-height: 320px; overflow-y: auto; }
.wrong { color: var(--ember); margin: 2px 0; }
</style>
