<script setup lang="ts">
/** One finding: what is so, what to do, by whose rule; a click selects its cause. */
import type { Finding } from "../api/client";
import { whole } from "../units";

defineProps<{ finding: Finding; /** Its remedies are listed elsewhere. */ bare?: boolean }>();
const WORDS = { error: "Error", warning: "Warning", note: "Note" };
</script>

<template>
  <ElButton text class="finding" :class="finding.severity">
    <span class="text">
      <span class="visually-hidden">{{ WORDS[finding.severity] }}: </span>{{ whole(finding.message) }}
      <span v-if="finding.remedy && !bare" class="remedy">{{ whole(finding.remedy) }}</span>
      <span v-if="finding.rule" class="rule">{{ whole(finding.rule) }}</span>
    </span>
  </ElButton>
</template>

<style scoped>
.finding.el-button { display: block; width: 100%; height: auto; white-space: normal; text-align: start; line-height: 1.4; padding: 6px 8px 7px 10px; margin: 0 0 5px; border: 0; border-left: 4px solid var(--line); border-radius: 0; background: var(--sheet); font-weight: 400; }
.finding.el-button:hover { background: var(--ember-soft); }
.finding.error { border-left-color: var(--ember); border-left-width: 6px; font-weight: 600; }
.finding.warning { border-left: 4px double var(--warn); }
.remedy, .rule { display: block; font-weight: 400; font-size: 13px; }
.remedy::before { content: "→ "; }
.rule { color: var(--soft); font-size: 12px; }
</style>
