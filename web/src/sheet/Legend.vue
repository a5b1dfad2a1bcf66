<script setup lang="ts">
/** Legend of a ramp at the foot of the sheet: its ends in words, its colours between them. */
defineProps<{ label: string; low: string; high: string; colours: string[]; wide?: boolean }>();
</script>

<template>
  <div class="legend" role="img" :aria-label="`${label}: ${low} to ${high}`">
    <span>{{ low }}</span>
    <i v-for="c in colours" :key="c" :class="{ wide }" :style="{ background: c }"></i>
    <span>{{ high }}</span>
    <slot />
  </div>
</template>
