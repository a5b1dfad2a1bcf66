<script setup lang="ts">
/** Something that happened to a tube, by its mark; or a loop that lies otherwise than drawn. */
import { ref } from "vue";
import type { HarmKind, Mend, SiteFact } from "../../api/client";
import { store } from "../../job/store";
import ChoiceField from "../../kit/ChoiceField.vue";
import QuantityField from "../../kit/QuantityField.vue";
import TextField from "../../kit/TextField.vue";
import { outbox } from "../../offline/waiting";
import type { LoopRow } from "./log";
import PhotoPick from "./PhotoPick.vue";
import { HARMS, MENDS, notKept } from "./words";

const props = defineProps<{ loop: LoopRow; differs?: boolean }>();
const emit = defineEmits<{ close: [] }>();
const harm = ref<HarmKind>("kink");
const mend = ref<Mend>("no");
const mark = ref<number>();
const note = ref("");
const photos = ref<Blob[]>([]);
const wrong = ref("");

async function keep() {
  wrong.value = "";
  if (props.differs && !note.value.trim() && !photos.value.length) return void (wrong.value = "Say or show how it lies.");
  const { loop_id } = props.loop;
  const fact: SiteFact = props.differs ? { kind: "differs", loop_id } : { kind: "harm", loop_id, harm: harm.value, mend: mend.value, mark_m: mark.value ?? null };
  try {
    await outbox.add(store.state.id, { fact, note: note.value, photos: photos.value });
    emit("close");
  } catch (e) {
    wrong.value = notKept(e);
  }
}
</script>

<template>
  <ElDialog :model-value="true" :title="differs ? `Loop ${loop.tag} lies differently` : `Loop ${loop.tag}: what happened`" width="min(460px, 96vw)" append-to-body @close="emit('close')">
    <form class="site-form sun" @submit.prevent="keep">
      <template v-if="!differs">
        <label>What <ChoiceField v-model="harm" :options="HARMS" label="What happened" /></label>
        <label>At mark on the tube <QuantityField v-model="mark" label="Mark" quantity="tube" :min="0" :max="2000" empty="not read" wide /></label>
        <label>Mended <ChoiceField v-model="mend" :options="MENDS" label="How it was mended" /></label>
        <p v-if="mend === 'coupling'" class="care">A coupling stays on every later drawing. Local code may forbid one in the floor, or ask for a sleeve or a box over it.</p>
      </template>
      <label>{{ differs ? "How it lies" : "More" }} <TextField v-model="note" label="Note" :lines="2" :max="2000" /></label>
      <PhotoPick v-model="photos" />
      <ElAlert v-if="wrong" type="error" :title="wrong" :closable="false" show-icon role="alert" />
      <div class="do"><ElButton size="large" @click="emit('close')">Cancel</ElButton><ElButton size="large" type="primary" native-type="submit">Write it down</ElButton></div>
    </form>
  </ElDialog>
</template>
