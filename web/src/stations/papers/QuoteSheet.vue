<script setup lang="ts">
/** The customer's page, to be printed; an incomplete offer says what it lacks instead. */
import { computed } from "vue";
import { open } from "../materials/offer";
import OfferPage from "../materials/OfferPage.vue";
import { useMaterials } from "../materials/counted";
import { UPRIGHT, UPRIGHT_MARGIN, usualPaper } from "./pages";
import PaperFrame from "./PaperFrame.vue";

const paper = usualPaper();
const { answer, trouble, old } = useMaterials();
const counted = computed(() => (trouble.value ? null : answer.value));
</script>

<template>
  <PaperFrame v-model:paper="paper" :busy="old" label="Quote" :pages="UPRIGHT" :margin="UPRIGHT_MARGIN" print="Print the quote">
    <template #bar><slot /></template>
    <p v-if="trouble" role="alert">The quote is not calculated: {{ trouble }}</p>
    <p v-else-if="!counted">Counting…</p>
    <template v-else-if="counted.quote.some(open)"><p v-for="o in counted.quote.filter(open)" :key="o.id" role="alert">{{ o.name }} is not complete: {{ [...o.missing, ...(o.labour_missing ? ["an hour of work"] : [])].join(", ") }} {{ o.missing.length + Number(o.labour_missing) > 1 ? "have" : "has" }} no price. Put prices in at Materials.</p></template>
    <OfferPage v-else :counted="counted" />
  </PaperFrame>
</template>
