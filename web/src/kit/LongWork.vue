<script setup lang="ts">
/** Work that takes long: how far it is, and a way to stop it. */
defineProps<{ share: number | null; stopped: boolean; what: string }>();
defineEmits<{ stop: []; again: [] }>();
</script>

<template>
  <p v-if="share !== null" class="long" role="status">
    {{ what }}: <ElProgress :percentage="Math.round(100 * share)" :stroke-width="8" :aria-label="what" />
    <ElButton size="small" @click="$emit('stop')">Stop</ElButton>
  </p>
  <p v-else-if="stopped" class="long" role="status">Stopped. <ElButton size="small" @click="$emit('again')">Go on</ElButton></p>
</template>

<style scoped>
.long { display: flex; gap: 12px; align-items: center; margin: 6px 0; }
/* painted by itself, and without a glide: over a plan each frame of it would paint the plan anew */
.long .el-progress { width: 220px; contain: strict; height: 16px; will-change: transform; }
.long :deep(.el-progress-bar__inner) { transition: none; }
</style>
