<script setup lang="ts">
/** A new job: its name, and three things more that may be left out; what is usual for them is set from the start. */
import { nextTick, ref } from "vue";
import { answer, api, type Start, type Units } from "../api/client";
import { usualUnits, viewer } from "../job/viewer";
import ChoiceField from "../kit/ChoiceField.vue";
import { parse, show } from "../units";
import { JOB_KINDS } from "../words";

const emit = defineEmits<{ made: [id: string]; failed: [error: unknown] }>();
const open = ref(false);
const name = ref("");
const kind = ref<Start["kind"]>();
const units = ref<Units>("metric");
const place = ref("");
const outdoor = ref("");
const wrong = ref("");
const busy = ref(false);
const nameField = ref<{ focus(): void }>();

function ask() {
  [name.value, kind.value, place.value, outdoor.value, wrong.value] = ["", undefined, "", "", ""];
  units.value = viewer.units.value === "job" ? usualUnits() : viewer.units.value;
  open.value = true;
}
defineExpose({ ask });

async function make() {
  const text = name.value.trim();
  const outdoor_c = outdoor.value.trim() ? parse("temperature", outdoor.value, units.value) : undefined;
  if (!text) wrong.value = "A job needs a name.";
  else if (outdoor_c === null || (outdoor_c !== undefined && (outdoor_c < -60 || outdoor_c > 25))) wrong.value = `The design outdoor temperature must be ${show("temperature", -60, units.value)} to ${show("temperature", 25, units.value)}.`;
  else {
    busy.value = true;
    try {
      const body: Start = { name: text, kind: kind.value, units: units.value, place: place.value.trim(), outdoor_c };
      emit("made", (await answer(api.POST("/api/jobs", { body }))).id);
    } catch (e) {
      emit("failed", e);
    } finally {
      busy.value = false;
    }
  }
}
</script>

<template>
  <ElDialog v-model="open" title="New job" width="min(460px, 94vw)" @opened="nextTick(() => nameField?.focus())">
    <form id="new-job" class="ask" @submit.prevent="make">
      <label for="job-name">Name</label>
      <ElInput id="job-name" ref="nameField" v-model="name" maxlength="200" />
      <span class="q">What is it?</span>
      <ChoiceField v-model="kind" :options="JOB_KINDS" label="What is it?" empty="I'll say later" />
      <span class="q">Units</span>
      <ElRadioGroup v-model="units" aria-label="Units of the job"><ElRadio value="metric">metric</ElRadio><ElRadio value="us">US: feet, °F, BTU/h</ElRadio></ElRadioGroup>
      <label for="job-place">Place</label>
      <ElInput id="job-place" v-model="place" maxlength="200" />
      <label for="job-outdoor">Design outdoor temperature</label>
      <ElInput id="job-outdoor" v-model="outdoor" :placeholder="`${show('temperature', -12, units)} unless you know better`" />
      <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
      <p class="quiet">All but the name can be left out, and changed later.</p>
    </form>
    <template #footer>
      <ElButton @click="open = false">Cancel</ElButton>
      <ElButton type="primary" native-type="submit" form="new-job" :loading="busy">Create</ElButton>
    </template>
  </ElDialog>
</template>

<style scoped>
.ask { display: grid; grid-template-columns: minmax(100px, 34%) minmax(0, 1fr); gap: 8px 12px; align-items: center; }
.q { color: var(--soft); }
.wrong, .quiet { grid-column: 1 / -1; margin: 4px 0 0; }
.wrong { color: var(--ember); font-weight: 600; }
.quiet { color: var(--soft); font-size: 13px; }
</style>
