<script setup lang="ts">
/** Opens a link: its token stands behind the `#`, goes to the server in a body, and is taken out of the address. */
import { onMounted, ref } from "vue";
import { useRouter } from "vue-router";
import { answer, api } from "../api/client";
import { told } from "../job/told";
import { useTheme } from "../shell/theme";
import { useSession } from "./session";

useTheme();
const router = useRouter();
const session = useSession();
const wrong = ref("");

onMounted(async () => {
  const token = location.hash.slice(1);
  history.replaceState(history.state, "", "/link");
  if (!token) return void (wrong.value = "This link is not whole. Open it again as it was given to you.");
  try {
    const link = await answer(api.POST("/api/links/open", { body: { token } }));
    await session.load(true);
    await router.replace(link.purpose === "crew" ? `/jobs/${link.job_id}/laying` : `/handover/${link.job_id}`);
  } catch (e) {
    wrong.value = told(e);
  }
});
</script>

<template>
  <main class="link">
    <h1><img src="/icon.svg" alt="" width="28" height="28" /> Fuoco</h1>
    <ElAlert v-if="wrong" type="error" :title="wrong" :closable="false" show-icon role="alert" />
    <p v-else role="status">Opening the link…</p>
  </main>
</template>

<style scoped>
.link { max-width: 460px; margin: 12vh auto 0; padding: 0 20px; }
h1 { display: flex; gap: 10px; align-items: center; font-size: 24px; }
</style>
