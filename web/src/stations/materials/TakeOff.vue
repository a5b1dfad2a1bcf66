<script setup lang="ts">
/** Every article counted, the rule of thumb beside it, its price; of the chosen one where the count comes from. */
import { computed, ref } from "vue";
import { answer, api, type ImportProblem, type Job, type MaterialsDesign, type TakeOffLine } from "../../api/client";
import { purchasing } from "../../job/purchasing";
import { store } from "../../job/store";
import DataTable from "../../kit/DataTable.vue";
import FilePick from "../../kit/FilePick.vue";
import QuantityField from "../../kit/QuantityField.vue";
import type { Column } from "../../kit/table";
import { show, symbol } from "../../units";
import { GROUPS } from "../../words";
import { perUnit, UNIT_QUANTITY, useMaterials, type CountUnit } from "./counted";

const props = defineProps<{ counted: MaterialsDesign }>();
const { units, state } = store;
const { money, currency } = useMaterials();
const q = (l: TakeOffLine) => UNIT_QUANTITY[l.unit as CountUnit];
const amount = (l: TakeOffLine, v: number | null | undefined) => (v === null || v === undefined ? "" : show(q(l), v, units.value));
const unitWord = (l: TakeOffLine) => symbol(q(l), units.value) || "piece";
const columns: Column<TakeOffLine>[] = [
  { key: "name", head: "Article", value: (l) => l.name },
  { key: "group", head: "Group", value: (l) => GROUPS[l.group], choice: "usual" },
  { key: "quantity", head: "Counted", value: (l) => l.quantity, text: (l) => amount(l, l.quantity), num: true, from: (l) => l.parts.map((p) => `${p.name}: ${amount(l, p.quantity)}${p.how ? ` (${p.how})` : ""}`).join("\n") },
  { key: "thumb", head: "Rule of thumb", value: (l) => l.thumb, text: (l) => amount(l, l.thumb), num: true, from: (l) => l.thumb_how, choice: "usual" },
  { key: "order", head: "Order", value: (l) => l.order, text: (l) => amount(l, l.order), num: true },
  { key: "unit_price", head: "Unit price", value: (l) => l.unit_price },
  { key: "price", head: "Price", value: (l) => l.price, text: (l) => (l.price === null || l.price === undefined ? "no price" : money(l.price)), num: true },
  { key: "code", head: "Code", value: (l) => l.article, choice: "extra" },
];
const chosen = ref("");
const line = computed(() => props.counted.lines.find((l) => l.article === chosen.value) ?? props.counted.lines[0]);
const feet = computed(() => [{ name: "All priced articles", price: money(props.counted.cost), order: props.counted.missing_prices ? `${props.counted.missing_prices} without a price` : "" }]);

function setPrice(l: TakeOffLine, shown: number | undefined) {
  store.edit(`price of ${l.name}`, (j: Job) => {
    const rows = (purchasing(j, "prices").rows ??= []);
    const at = rows.findIndex((r) => r.article === l.article);
    if (shown === undefined) {
      if (at >= 0) rows.splice(at, 1);
      return;
    }
    const price = Math.round(shown * perUnit(l.unit as CountUnit) * 1e6) / 1e6;
    if (at >= 0) rows[at]!.price = price;
    else rows.push({ article: l.article, price });
  });
}

const problems = ref<ImportProblem[]>([]);
const done = ref("");
async function read(file: File) {
  problems.value = [];
  done.value = "";
  const text = await file.text();
  const got = await store.editThere("read a price list", (job) => answer(api.POST("/api/import/prices", { body: { job, text } })), (i) => i.job as Job);
  if (!got) return;
  problems.value = got.problems;
  done.value = `${file.name}: ${got.added} prices added, ${got.changed} changed.`;
}
/** What is asked for is chosen on the plan too. */
const go = (p: TakeOffLine["parts"][number]) => store.select({ kind: p.subject.kind, id: p.subject.id });
</script>

<template>
  <div class="takeoff">
    <div class="files no-print" role="group" aria-label="Price list">
      <FilePick label="Price list as a CSV file" accept=".csv" @take="read">Read a price list</FilePick>
      <a :href="`/api/jobs/${state.id}/prices.csv`" download>Price list to fill in</a>
      <a :href="`/api/jobs/${state.id}/order.csv`" download>Order list</a>
    </div>
    <p v-if="done" role="status">{{ done }}</p>
    <p v-if="state.refusal" class="wrong" role="alert">{{ state.refusal }}</p>
    <ul v-if="problems.length" class="problems" aria-label="What was not taken">
      <li v-for="(p, i) in problems" :key="i"><template v-if="p.line">Line {{ p.line }}: </template>{{ p.reason }}</li>
    </ul>
    <div class="list">
      <DataTable :id="(l) => l.article" name="materials" inline :columns="columns" :rows="counted.lines" :chosen="(l) => l === line" :feet="feet" empty="Nothing to count yet: draw loops first." @choose="chosen = $event.article">
        <template #cell-unit_price="{ row: l }">
          <span class="unit"><QuantityField :model-value="l.unit_price === null || l.unit_price === undefined ? undefined : l.unit_price / perUnit(l.unit as CountUnit)" quantity="factor" :min="0" :max="1000000" empty="no price" :label="`Price of ${l.name}`" @update:model-value="setPrice(l, $event)" /> {{ currency }}/{{ unitWord(l) }}</span>
        </template>
      </DataTable>
    </div>
    <section v-if="line" class="why" :aria-label="`Where the count of ${line.name} comes from`">
      <h3>{{ line.name }}: {{ amount(line, line.quantity) }}</h3>
      <ul>
        <li v-for="(p, i) in line.parts" :key="i"><span v-if="p.subject.kind === 'job'">{{ p.name }}</span><ElButton v-else link type="primary" @click="go(p)">{{ p.name }}</ElButton> <b>{{ amount(line, p.quantity) }}</b> <span class="quiet">{{ p.how }}</span></li>
      </ul>
      <p v-if="line.thumb !== null && line.thumb !== undefined" class="quiet">Rule of thumb: {{ line.thumb_how }} gives {{ amount(line, line.thumb) }}.</p>
    </section>
  </div>
</template>

<style scoped>
.takeoff { display: flex; flex-direction: column; min-height: 0; flex: 1; }
.files { display: flex; gap: 4px 14px; align-items: center; flex-wrap: wrap; padding: 5px 10px; }
.list { flex: 1; min-height: 120px; display: flex; flex-direction: column; }
.unit { display: inline-flex; gap: 4px; align-items: center; white-space: nowrap; }
.why { border-top: 1px solid var(--line); padding: 6px 14px; max-height: 30%; overflow: auto; background: var(--paper); }
.why h3 { margin: 0 0 4px; }
.why ul { list-style: none; margin: 0; padding: 0; }
.why li { display: flex; gap: 8px; align-items: baseline; flex-wrap: wrap; }
.problems { margin: 0; padding: 0 14px 4px 32px; max-height: 110px; overflow: auto; }
p { margin: 0; padding: 2px 14px; }
.wrong { color: var(--ember); font-weight: 600; }
.quiet { color: var(--soft); }
.why p { padding: 4px 0 0; }
</style>
