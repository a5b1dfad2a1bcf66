<script setup lang="ts">
import { RouterLink } from "vue-router";
</script>

<template>
  <main class="missing">
    <svg viewBox="0 0 220 120" aria-hidden="true">
      <path d="M10 110V40a15 15 0 0 1 30 0v40a15 15 0 0 0 30 0V40a15 15 0 0 1 30 0v70" fill="none" stroke="var(--ember)" stroke-width="4" stroke-linecap="round" />
      <path d="M130 110V40a15 15 0 0 1 30 0v40a15 15 0 0 0 30 0V40" fill="none" stroke="var(--line)" stroke-width="4" stroke-dasharray="8 8" stroke-linecap="round" />
    </svg>
    <h1>This loop leads nowhere</h1>
    <p>There is nothing at this address. The job may have been deleted, or the address mistyped.</p>
    <RouterLink to="/">All jobs</RouterLink>
  </main>
</template>

<style scoped>
.missing { max-width: 460px; margin: 12vh auto; padding: 0 20px; }
.missing svg { width: 220px; margin-bottom: 18px; }
.missing h1 { margin-bottom: 8px; }
</style>
