<script setup lang="ts">
/** Who is signed in, and what belongs to that: people, password, signing out. Nothing where nobody is asked. */
import { User } from "@element-plus/icons-vue";
import { ElMessage } from "element-plus/es/components/message/index.mjs";
import "element-plus/es/components/message/style/css";
import { onMounted, ref } from "vue";
import { useRouter } from "vue-router";
import { answer, api } from "../api/client";
import { told } from "../job/told";
import { useSession } from "./session";

const router = useRouter();
const { info, load, signOut, needed, isOwner } = useSession();
onMounted(() => void load().catch(() => {}));
const changing = ref(false);
const words = ref({ old: "", new: "" });
const wrong = ref("");

async function act(what: string) {
  if (what === "people") return void router.push("/people");
  if (what === "password") {
    words.value = { old: "", new: "" };
    wrong.value = "";
    changing.value = true;
    return;
  }
  try {
    await signOut(what === "everywhere");
    await router.push("/sign-in");
  } catch (e) {
    ElMessage.error(told(e));
  }
}
async function change() {
  try {
    await answer(api.PUT("/api/session/password", { body: words.value }));
    changing.value = false;
    ElMessage.success("Your password is changed; other browsers are signed out.");
  } catch (e) {
    wrong.value = told(e);
  }
}
</script>

<template>
  <template v-if="needed && info?.role">
    <ElDropdown trigger="click" :persistent="false" @command="act">
      <ElButton text :icon="User" :aria-label="`${info.name}: account`">{{ info.name }}</ElButton>
      <template #dropdown>
        <ElDropdownMenu>
          <ElDropdownItem v-if="isOwner" command="people">People</ElDropdownItem>
          <template v-if="!info.job_id">
            <ElDropdownItem command="password">Change my password</ElDropdownItem>
            <ElDropdownItem command="everywhere" divided>Sign out everywhere</ElDropdownItem>
          </template>
          <ElDropdownItem command="out">Sign out</ElDropdownItem>
        </ElDropdownMenu>
      </template>
    </ElDropdown>
    <ElDialog v-model="changing" title="Change my password" width="400">
      <form id="change-password" @submit.prevent="change">
        <label for="old-password">The old one</label><ElInput id="old-password" v-model="words.old" type="password" show-password autocomplete="current-password" maxlength="200" />
        <label for="next-password">The new one, 12 characters or more</label><ElInput id="next-password" v-model="words.new" type="password" show-password autocomplete="new-password" maxlength="200" />
        <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
      </form>
      <template #footer><ElButton @click="changing = false">Cancel</ElButton><ElButton type="primary" native-type="submit" form="change-password" :disabled="!words.old || !words.new">Change it</ElButton></template>
    </ElDialog>
  </template>
</template>

<style scoped>
form { display: grid; gap: 6px; }
.wrong { color: var(--ember); margin: 2px 0; }
</style>
