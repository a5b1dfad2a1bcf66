<script setup lang="ts">
/** Photos for a record: taken with the phone's camera or chosen, made small at once. */
import { computed, onBeforeUnmount, ref } from "vue";
import FilePick from "../../kit/FilePick.vue";
import { sitePhoto } from "../../kit/pictures";

const MOST = 12;
const photos = defineModel<Blob[]>({ required: true });
const busy = ref(false);
const wrong = ref("");
const shown = computed(() => photos.value.map((p) => URL.createObjectURL(p)));
onBeforeUnmount(() => shown.value.forEach((url) => URL.revokeObjectURL(url)));

async function take(file: File) {
  busy.value = true;
  wrong.value = "";
  try {
    photos.value = [...photos.value, await sitePhoto(file)];
  } catch (e) {
    wrong.value = e instanceof Error ? e.message : String(e);
  } finally {
    busy.value = false;
  }
}
</script>

<template>
  <div class="photos">
    <span v-for="(url, i) in shown" :key="url" class="one"><img :src="url" alt="Photo to be kept" /><ElButton link type="primary" @click="photos = photos.filter((_, k) => k !== i)">Take it off</ElButton></span>
    <FilePick v-if="photos.length < MOST" label="Photo" accept="image/*" large @take="take">{{ busy ? "Making it smaller…" : photos.length ? "Another photo" : "Add a photo" }}</FilePick>
    <span v-if="wrong" class="wrong" role="alert">{{ wrong }}</span>
  </div>
</template>

<style scoped>
.photos { display: flex; gap: 10px; flex-wrap: wrap; align-items: center; }
.one { display: grid; }
img { width: 96px; height: 72px; object-fit: cover; border: 1px solid var(--line); border-radius: 3px; }
.wrong { color: var(--ember); }
</style>
