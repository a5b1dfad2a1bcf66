<script setup lang="ts">
/** The visit as it is written down: what people complained of, what was read, what it was, what was done. */
import { ref } from "vue";
import type { Ranking, ReadingOf } from "../../api/client";
import { SIMULATED } from "../../instruments/read";
import TextField from "../../kit/TextField.vue";
import PhotoPick from "../laying/PhotoPick.vue";
import SiteForm from "../laying/SiteForm.vue";

const props = defineProps<{ readings: ReadingOf[]; ranking: Ranking; simulated: boolean }>();
const emit = defineEmits<{ close: []; written: [] }>();
const complaint = ref("");
const done = ref("");
const first = props.ranking.causes[0];
const cause = ref(first && first.share > 0.5 ? `${first.name}${first.where ? `: ${first.where}` : ""}` : "");
const photos = ref<Blob[]>([]);

function record() {
  return { fact: { kind: "visited" as const, complaint: complaint.value.trim(), readings: props.readings, cause: cause.value.trim(), done: done.value.trim() }, photos: photos.value, note: props.simulated ? SIMULATED : "" };
}
</script>

<template>
  <SiteForm title="Visit" :record="record" @kept="emit('written')" @close="emit('close')">
    <label>What people say <TextField v-model="complaint" label="What people say" :lines="2" :max="2000" /></label>
    <p>{{ readings.length }} {{ readings.length === 1 ? "reading" : "readings" }} go with it.</p>
    <label>What it was <TextField v-model="cause" label="What it was" :max="300" /></label>
    <label>What was done <TextField v-model="done" label="What was done" :lines="2" :max="2000" /></label>
    <PhotoPick v-model="photos" />
  </SiteForm>
</template>
