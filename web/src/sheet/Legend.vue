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

<style>
.legend { width: max-content; max-width: calc(100% - 16px); flex-wrap: wrap; position: absolute; left: 50%; transform: translateX(-50%); bottom: 8px; display: flex; align-items: center; background: var(--sheet); border: 1px solid var(--line); border-radius: 3px; padding: 2px 10px; font-size: 12px; }
.legend i { width: 12px; height: 10px; }
.legend i.wide { width: 26px; height: 12px; }
.legend span { margin: 0 6px; white-space: nowrap; }
@media (max-width: 900px) { .legend { bottom: auto; top: 4px; left: 8px; transform: none; font-size: 11px; } }
</style>
