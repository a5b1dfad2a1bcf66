<script setup lang="ts">
/** One finding: what is so, what to do, by whose rule; a click selects its cause. */
import type { Finding } from "../api/client";
import { whole } from "../units";

defineProps<{ finding: Finding; /** Its remedies are listed elsewhere. */ bare?: boolean }>();
const WORDS = { error: "Error", warning: "Warning", note: "Note" };
</script>

<template>
  <button class="plain finding" :class="finding.severity">
    <span class="visually-hidden">{{ WORDS[finding.severity] }}: </span>{{ whole(finding.message) }}
    <span v-if="finding.remedy && !bare" class="remedy">{{ whole(finding.remedy) }}</span>
    <span v-if="finding.rule" class="rule">{{ whole(finding.rule) }}</span>
  </button>
</template>

<style scoped>
.remedy, .rule { display: block; font-weight: 400; font-size: 13px; }
.remedy::before { content: "→ "; }
.rule { color: var(--soft); font-size: 12px; }
</style>
