<script setup lang="ts">
/** What the customer reads: options side by side, what is not in them. Never what things cost the firm. */
import { computed } from "vue";
import type { MaterialsDesign, OptionDesign } from "../../api/client";
import { store } from "../../job/store";
import { show } from "../../units";
import { GROUPS, OFFERED } from "../../words";
import { useMaterials } from "./counted";

const props = defineProps<{ counted: MaterialsDesign }>();
const { job, units } = store;
const { money } = useMaterials();
type Group = keyof typeof GROUPS;
const sumOf = (o: OptionDesign, group: Group) => o.sums.find((s) => s.group === group);
const shown = computed(() => (Object.keys(GROUPS) as Group[]).filter((g) => props.counted.quote.some((o) => sumOf(o, g))));
const extras = computed(() => [...new Set(props.counted.quote.flatMap((o) => o.extras.map((e) => e.name)))]);
</script>

<template>
  <article class="offer" aria-label="The customer's page">
    <h2>{{ counted.quote.length > 1 ? "Offers" : "Offer" }}: {{ job?.name }}</h2>
    <p v-if="job?.customer">For {{ job.customer }}<template v-if="job.address">, {{ job.address }}</template></p>
    <table class="grid-table">
      <thead><tr><th>Contains</th><th v-for="o in counted.quote" :key="o.id" class="num">{{ o.name }}</th></tr></thead>
      <tbody>
        <tr v-for="g in shown" :key="g"><td>{{ OFFERED[g] }}</td><td v-for="o in counted.quote" :key="o.id" class="num">{{ sumOf(o, g) ? money(sumOf(o, g)!.materials + sumOf(o, g)!.labour) : "not included" }}</td></tr>
        <tr v-for="e in extras" :key="e"><td>{{ e }}</td><td v-for="o in counted.quote" :key="o.id" class="num">{{ o.extras.some((x) => x.name === e) ? money(o.extras.filter((x) => x.name === e).reduce((s, x) => s + x.price, 0)) : "not included" }}</td></tr>
      </tbody>
      <tfoot>
        <tr><td>Sum</td><td v-for="o in counted.quote" :key="o.id" class="num">{{ money(o.net) }}</td></tr>
        <tr v-if="counted.quote.some((o) => o.tax > 0)"><td>Tax {{ show("share", counted.tax, units) }}</td><td v-for="o in counted.quote" :key="o.id" class="num">{{ money(o.tax) }}</td></tr>
        <tr><td><b>To pay</b></td><td v-for="o in counted.quote" :key="o.id" class="num"><b>{{ money(o.gross) }}</b></td></tr>
      </tfoot>
    </table>
    <h3>Not included</h3>
    <ul><li v-for="line in counted.exclusions" :key="line">{{ line }}</li></ul>
    <p>This offer holds for {{ counted.valid_days }} days. Work on gas, flues and electricity is done by licensed trades under local code.</p>
  </article>
</template>

<style scoped>
h2 { margin: 0 0 4px; font-size: 18px; }
h3 { margin: 10px 0 2px; }
table { width: 100%; margin: 8px 0; }
td, th { white-space: normal; }
th { position: static; }
ul { margin: 2px 0 8px; padding-left: 20px; }
tfoot td { border-top: 1px solid var(--line); }
</style>
