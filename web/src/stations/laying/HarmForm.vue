<script setup lang="ts">
/** Something that happened to a tube, by its mark; or a loop that lies otherwise than drawn. */
import { ref } from "vue";
import type { HarmKind, Mend, SiteFact } from "../../api/client";
import ChoiceField from "../../kit/ChoiceField.vue";
import QuantityField from "../../kit/QuantityField.vue";
import TextField from "../../kit/TextField.vue";
import type { LoopRow } from "./log";
import PhotoPick from "./PhotoPick.vue";
import { HARMS, MENDS } from "../../words";
import SiteForm from "./SiteForm.vue";

const props = defineProps<{ loop: LoopRow; differs?: boolean }>();
const emit = defineEmits<{ close: [] }>();
const harm = ref<HarmKind>("kink");
const mend = ref<Mend>("no");
const mark = ref<number>();
const note = ref("");
const photos = ref<Blob[]>([]);

function record() {
  if (props.differs && !note.value.trim() && !photos.value.length) return "Say or show how it lies.";
  const { loop_id } = props.loop;
  const fact: SiteFact = props.differs ? { kind: "differs", loop_id } : { kind: "harm", loop_id, harm: harm.value, mend: mend.value, mark_m: mark.value ?? null };
  return { fact, note: note.value, photos: photos.value };
}
</script>

<template>
  <SiteForm :title="differs ? `Loop ${loop.tag} lies differently` : `Loop ${loop.tag}: what happened`" :record="record" @close="emit('close')">
    <template v-if="!differs">
      <label>What <ChoiceField v-model="harm" :options="HARMS" label="What happened" /></label>
      <label>At mark on the tube <QuantityField v-model="mark" label="Mark" quantity="tube" :min="0" :max="2000" empty="not read" wide /></label>
      <label>Mended <ChoiceField v-model="mend" :options="MENDS" label="How it was mended" /></label>
      <p v-if="mend === 'coupling'" class="care">A coupling stays on every later drawing. Local code may forbid one in the floor, or ask for a sleeve or a box over it.</p>
    </template>
    <label>{{ differs ? "How it lies" : "More" }} <TextField v-model="note" label="Note" :lines="2" :max="2000" /></label>
    <PhotoPick v-model="photos" />
  </SiteForm>
</template>
