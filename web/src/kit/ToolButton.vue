<script setup lang="ts">
/** A tool in a bar: its sign over its word; the key that chooses it in the tooltip. */
import type { Component } from "vue";

defineOptions({ inheritAttrs: false });
defineProps<{ name: string; icon?: Component; hotkey?: string; on?: boolean; expands?: boolean }>();
</script>

<template>
  <ElTooltip :trigger-keys="[]" :content="hotkey ? `${name} (${hotkey})` : name" :show-after="600" placement="bottom">
    <ElButton class="tool" text v-bind="$attrs" :class="{ on }" :aria-pressed="expands ? undefined : Boolean(on)" :aria-expanded="expands ? Boolean(on) : undefined">
      <span class="face"><ElIcon v-if="icon" :size="19"><component :is="icon" /></ElIcon><span>{{ name }}</span></span>
    </ElButton>
  </ElTooltip>
</template>

<style scoped>
.tool.el-button { height: 44px; padding: 2px 5px; margin: 0; min-width: 44px; flex: none; --el-button-hover-bg-color: var(--faint); --el-fill-color-light: var(--faint); }
.face { display: flex; flex-direction: column; align-items: center; gap: 1px; font-size: 11px; line-height: 1.15; }
.tool.on.el-button { background: var(--ember); color: var(--on-ember); }
</style>
