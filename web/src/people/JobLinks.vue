<script setup lang="ts">
/** Links to this job for those without an account: made, shown once as address and square code, taken back. */
import { Delete } from "@element-plus/icons-vue";
import { computed, ref, watch } from "vue";
import { answer, api, type Link, type Purpose } from "../api/client";
import { told } from "../job/told";
import ChoiceField from "../kit/ChoiceField.vue";
import { PURPOSES } from "../words";

const props = defineProps<{ jobId: string }>();
const open = defineModel<boolean>({ required: true });
const links = ref<Link[] | null>(null);
const wrong = ref("");
const fresh = ref({ purpose: "papers" as Purpose, name: "", days: 30 });
const made = ref<{ address: string; code: string; link: Link } | null>(null);
const DAYS = { 7: "a week", 30: "a month", 365: "a year", 730: "two years" } as const;
const at = computed(() => ({ params: { path: { id: props.jobId } } }));

async function load() {
  try {
    links.value = await answer(api.GET("/api/jobs/{id}/links", at.value));
  } catch (e) {
    wrong.value = told(e);
  }
}
watch(open, (is) => {
  if (!is) return;
  made.value = null;
  wrong.value = "";
  void load();
});
async function make() {
  wrong.value = "";
  try {
    made.value = await answer(api.POST("/api/jobs/{id}/links", { ...at.value, body: { ...fresh.value, days: Number(fresh.value.days) } }));
    fresh.value.name = "";
    await load();
  } catch (e) {
    wrong.value = told(e);
  }
}
async function revoke(l: Link) {
  try {
    await answer(api.DELETE("/api/jobs/{id}/links/{link}", { params: { path: { id: props.jobId, link: l.id } } }));
    if (made.value?.link.id === l.id) made.value = null;
    await load();
  } catch (e) {
    wrong.value = told(e);
  }
}
const day = (text: string) => new Date(text).toLocaleDateString("en-GB", { dateStyle: "medium" });
const state = (l: Link) => (l.revoked_at ? "taken back" : new Date(l.until) < new Date() ? "past" : `until ${day(l.until)}${l.used_at ? `, opened ${day(l.used_at)}` : ", not opened yet"}`);
const good = (l: Link) => !l.revoked_at && new Date(l.until) > new Date();
const picture = computed(() => (made.value ? `data:image/svg+xml;utf8,${encodeURIComponent(made.value.code)}` : ""));
</script>

<template>
  <ElDialog v-model="open" title="Links to this job" width="620">
    <form @submit.prevent="make">
      <label for="link-for">For whom</label><ElInput id="link-for" v-model="fresh.name" maxlength="200" placeholder="Inspector, owner, crew on site" />
      <span class="label">May read</span><ChoiceField v-model="fresh.purpose" :options="PURPOSES" label="What the link is for" />
      <span class="label">Good for</span><ChoiceField v-model="fresh.days" :options="Object.entries(DAYS).map(([value, text]) => ({ value: Number(value), text }))" label="How long the link is good" />
      <ElButton type="primary" native-type="submit" :disabled="!fresh.name.trim()">Make a link</ElButton>
    </form>
    <ElAlert v-if="wrong" type="error" :title="wrong" :closable="false" show-icon role="alert" />
    <section v-if="made" class="made" aria-label="The new link">
      <img :src="picture" :alt="`Square code of the link for ${made.link.name}`" width="160" height="160" />
      <div>
        <p><b>For {{ made.link.name }}.</b> It is shown this once: send it, or let them scan the code.</p>
        <ElInput :model-value="made.address" readonly aria-label="Address of the link" />
        <p class="quiet">Whoever has it reads what it is for, without a password, until {{ day(made.link.until) }} or until you take it back.</p>
      </div>
    </section>
    <ul v-if="links?.length" aria-label="Links made">
      <li v-for="l in links" :key="l.id" :class="{ gone: !good(l) }">
        <span><b>{{ l.name }}</b>, {{ PURPOSES[l.purpose] }}, by {{ l.made_by || "this machine" }}: {{ state(l) }}</span>
        <ElButton v-if="good(l)" link size="small" :icon="Delete" :aria-label="`Take back the link for ${l.name}`" @click="revoke(l)">Take back</ElButton>
      </li>
    </ul>
    <p v-else-if="links" class="quiet">No links yet.</p>
  </ElDialog>
</template>

<style scoped>
form { display: grid; grid-template-columns: 110px minmax(0, 1fr); gap: 8px 12px; align-items: center; }
form > .el-button { grid-column: 2; justify-self: start; }
.label { color: var(--soft); font-size: 14px; }
li .el-button { white-space: nowrap; flex: none; }
.made { display: flex; flex-wrap: wrap; gap: 14px; border: 1px solid var(--line); border-radius: 4px; padding: 10px; margin: 12px 0; }
.made > div { flex: 1; min-width: 220px; }
.made img { background: #fff; }
ul { list-style: none; padding: 0; }
li { display: flex; justify-content: space-between; gap: 10px; border-top: 1px solid var(--faint); padding: 6px 0; }
.gone, .quiet { color: var(--soft); }
</style>
