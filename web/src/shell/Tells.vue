<script setup lang="ts">
/**
 * What a figure or field says of itself (its `title`: where it comes from, its range) for those who have no pointer to hover
 * with: when it gets the focus by the keyboard, and when it is touched.
 */
import { useEventListener } from "@vueuse/core";
import { ref } from "vue";

const at = ref<HTMLElement>();
const text = ref("");
function tell(target: EventTarget | null) {
  const told = target instanceof Element ? target.closest<HTMLElement>("[title]:not([title=''])") : null;
  at.value = told ?? undefined;
  text.value = told?.title ?? "";
}
useEventListener(document, "focusin", (e) => tell(e.target instanceof Element && e.target.matches(":focus-visible") ? e.target : null));
useEventListener(document, "focusout", () => tell(null));
useEventListener(document, "pointerdown", () => tell(null), { capture: true });
useEventListener(document, "pointerup", (e) => e.pointerType === "touch" && tell(e.target));
useEventListener(document, "keydown", (e) => e.key === "Escape" && tell(null));
</script>

<template>
  <ElTooltip :visible="text !== ''" :content="text" :virtual-ref="at" virtual-triggering placement="top" :enterable="false" :trigger-keys="[]" popper-class="tells no-print" :show-after="0" :hide-after="0" />
</template>

<style>
.tells { pointer-events: none; max-width: 340px; white-space: pre-line; }
</style>
