<script setup lang="ts">
/** Ways of running the house: each by a line of its own. */
import { Delete, Plus } from "@element-plus/icons-vue";
import { computed } from "vue";
import { buildUpsFor } from "../../job/floors";
import { store } from "../../job/store";
import CheckField from "../../kit/CheckField.vue";
import ChoiceField from "../../kit/ChoiceField.vue";
import QuantityField from "../../kit/QuantityField.vue";
import { choices } from "../../products/products";
import { TIME_CONTROLS } from "../../words";
import { asked, LINES, plainVariant, type Variant } from "./variants";

defineProps<{ sunny: boolean }>();
const { job } = store;
const buildUps = computed(() => buildUpsFor("floor").map((b) => ({ value: b.id, text: b.name })));
const add = () => asked.variants.push({ ...plainVariant(), ...(asked.span === "sun" ? { sun: 0 } : { setback_k: 3 }) });
const cut = (v: Variant, on: boolean) => (v.cut_h = on ? [24, 36] : undefined);
</script>

<template>
  <ul class="variants" aria-label="Variants">
    <li v-for="(v, i) in asked.variants" :key="i">
      <svg width="26" height="10" aria-hidden="true"><line x1="1" x2="25" y1="5" y2="5" :stroke="LINES[i]!.tint" stroke-width="2.5" :stroke-dasharray="LINES[i]!.dash" /></svg>
      <ChoiceField v-model="v.control" :options="TIME_CONTROLS" :label="`Control ${i + 1}`" />
      <label>cooler at night by <QuantityField :model-value="v.setback_k" quantity="difference" :label="`Set-back ${i + 1}`" :min="0" :max="10" @update:model-value="v.setback_k = $event ?? 0" /></label>
      <ChoiceField :model-value="v.build_up_id ?? undefined" :options="buildUps" :label="`Build-up ${i + 1}`" empty="floors as they are" @update:model-value="v.build_up_id = $event || undefined" />
      <ChoiceField :model-value="v.covering_id ?? undefined" :options="choices('coverings')" :label="`Covering ${i + 1}`" empty="coverings as they are" @update:model-value="v.covering_id = $event || undefined" />
      <CheckField v-if="v.setback_k" :model-value="v.optimum_start ?? false" :label="`Optimum start ${i + 1}`" @update:model-value="v.optimum_start = $event">warm again in time</CheckField>
      <CheckField :model-value="Boolean(v.floor_c)" :label="`Floor sensor ${i + 1}`" @update:model-value="v.floor_c = $event ? [20, Math.max(job!.rules.surface_limit_c, 21)] : undefined">floor sensor</CheckField>
      <template v-if="v.floor_c">
        <QuantityField :model-value="v.floor_c[0]" quantity="temperature" :label="`Floor at least ${i + 1}`" :min="5" :max="40" @update:model-value="v.floor_c = [$event ?? 20, v.floor_c![1]!]" /> to
        <QuantityField :model-value="v.floor_c[1]" quantity="temperature" :label="`Floor at most ${i + 1}`" :min="5" :max="40" @update:model-value="v.floor_c = [v.floor_c![0]!, $event ?? 29]" />
      </template>
      <label v-if="sunny && (asked.span === 'sun' || v.sun !== 1)">sun let in <QuantityField :model-value="v.sun" quantity="share" :label="`Sun let in ${i + 1}`" :min="0" :max="1" @update:model-value="v.sun = $event ?? 1" /></label>
      <CheckField v-if="asked.span !== 'year'" :model-value="Boolean(v.cut_h)" :label="`Power cut ${i + 1}`" @update:model-value="cut(v, $event)">power cut on the second day</CheckField>
      <ElButton v-if="asked.variants.length > 1" link :icon="Delete" :aria-label="`Take out variant ${i + 1}`" @click="asked.variants.splice(i, 1)" />
    </li>
    <li><ElButton v-if="asked.variants.length < 4" link type="primary" :icon="Plus" @click="add">Another one</ElButton></li>
  </ul>
</template>

<style scoped>
.variants { list-style: none; margin: 8px 0; padding: 0; display: grid; gap: 4px; }
.variants li { display: flex; gap: 6px 14px; align-items: center; flex-wrap: wrap; }
.variants :deep(.choice) { width: 168px; }
</style>
