<script setup lang="ts">
import { renewed, takeNew } from "./offline/shell";
</script>

<template>
  <RouterView />
  <div v-if="renewed" class="renewed no-print" role="status">A newer Fuoco is here. <ElButton size="small" type="primary" @click="takeNew">Load it</ElButton> <ElButton size="small" text @click="renewed = false">Later</ElButton></div>
</template>

<style>
.renewed { position: fixed; right: 12px; bottom: 12px; z-index: 50; padding: 8px 12px; background: var(--sheet); border: 1px solid var(--ember); border-radius: 4px; box-shadow: 0 2px 8px rgb(0 0 0 / 20%); }
</style>
