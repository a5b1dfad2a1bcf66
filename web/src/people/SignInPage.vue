<script setup lang="ts">
/** Name and password, then on to where one wanted to go. */
import { ref } from "vue";
import { useRoute, useRouter } from "vue-router";
import { told } from "../job/told";
import OutboxSign from "../shell/OutboxSign.vue";
import { useTheme } from "../shell/theme";
import { useSession, wayBack } from "./session";

useTheme();
const route = useRoute();
const router = useRouter();
const session = useSession();
const name = ref("");
const password = ref("");
const wrong = ref("");
const busy = ref(false);

async function go() {
  busy.value = true;
  wrong.value = "";
  try {
    await session.signIn(name.value, password.value);
    await router.replace(wayBack(route.query.to));
  } catch (e) {
    wrong.value = told(e);
    password.value = "";
  } finally {
    busy.value = false;
  }
}
</script>

<template>
  <main class="sign-in">
    <h1><img src="/icon.svg" alt="" width="28" height="28" /> Fuoco</h1>
    <form @submit.prevent="go">
      <label for="sign-in-name">Name</label>
      <ElInput id="sign-in-name" v-model="name" autocomplete="username" maxlength="60" autofocus />
      <label for="sign-in-password">Password</label>
      <ElInput id="sign-in-password" v-model="password" type="password" show-password autocomplete="current-password" maxlength="200" />
      <ElAlert v-if="wrong" type="error" :title="wrong" :closable="false" show-icon role="alert" />
      <ElButton type="primary" native-type="submit" :disabled="busy || !name.trim() || !password">Sign in</ElButton>
    </form>
    <OutboxSign />
    <p class="quiet">Lost your password? Whoever looks after this server can give you another one.</p>
  </main>
</template>

<style scoped>
.sign-in { max-width: 340px; margin: 12vh auto 0; padding: 0 20px; }
h1 { display: flex; gap: 10px; align-items: center; font-size: 24px; }
form { display: grid; gap: 6px; margin: 18px 0; }
form .el-button { margin-top: 10px; min-height: 44px; }
form .el-input { min-height: 40px; }
.quiet { color: var(--soft); }
</style>
