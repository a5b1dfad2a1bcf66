<script setup lang="ts">
/** A button that asks for a file. */
import { ref } from "vue";

defineProps<{ label: string; accept: string; link?: boolean; large?: boolean }>();
const emit = defineEmits<{ take: [file: File] }>();
const picker = ref<HTMLInputElement>();
function chosen() {
  const field = picker.value!;
  const file = field.files?.[0];
  // the same file can be chosen again
  field.value = "";
  if (file) emit("take", file);
}
</script>

<template>
  <span class="file-pick">
    <input ref="picker" type="file" class="visually-hidden" tabindex="-1" :accept="accept" :aria-label="label" @change="chosen" />
    <ElButton :size="link || large ? 'default' : 'small'" :link="link" :type="link ? 'primary' : 'default'" @click="picker?.click()"><slot /></ElButton>
  </span>
</template>
