<script setup lang="ts">
/** The customer's page: options side by side, what is not in them; and beside it, not printed, what makes it. */
import { computed } from "vue";
import { useRouter } from "vue-router";
import type { Job, MaterialsDesign } from "../../api/client";
import { newId } from "../../job/edit";
import { purchasing } from "../../job/purchasing";
import { store } from "../../job/store";
import CheckField from "../../kit/CheckField.vue";
import JobField from "../../kit/JobField.vue";
import QuantityField from "../../kit/QuantityField.vue";
import TextField from "../../kit/TextField.vue";
import { GROUPS } from "../../words";
import OfferPage from "./OfferPage.vue";
import { open } from "./offer";

defineProps<{ counted: MaterialsDesign }>();
const { job } = store;
type Group = keyof typeof GROUPS;
const quote = computed(() => job.value?.purchasing?.quote);
const change = (name: string, make: (q: NonNullable<NonNullable<Job["purchasing"]>["quote"]>) => void) => store.edit(name, (j: Job) => make(purchasing(j, "quote")));
const setExclusions = (text: string) => change("set what is not included", (q) => (q.exclusions = text.split("\n").map((l) => l.trim()).filter(Boolean)));
const setCurrency = (to: string) => store.edit("set the currency", (j: Job) => void (purchasing(j, "prices").currency = to));
const addOption = () =>
  store.edit("add an option", (j: Job) => {
    const q = purchasing(j, "quote");
    const options = (q.options ??= []);
    options.push({ id: newId(j, "option"), name: `Option ${options.length + 1}`, without: [] });
  });
const addExtra = () =>
  store.edit("add a line", (j: Job) => {
    const q = purchasing(j, "quote");
    (q.extras ??= []).push({ id: newId(j, "extra"), name: "Extra work", price: 0 });
  });
const groups = Object.keys(GROUPS) as Group[];
const toggle = (i: number, group: Group, on: boolean) => change("change what an option contains", (q) => {
  const option = q.options![i]!;
  option.without = on ? (option.without ?? []).filter((g) => g !== group) : [...(option.without ?? []), group];
});
const toggleExtra = (i: number, id: string, on: boolean) => change("change what an option contains", (q) => {
  const option = q.options![i]!;
  option.without_extras = on ? (option.without_extras ?? []).filter((x) => x !== id) : [...(option.without_extras ?? []), id];
});
const removeExtra = (i: number) => change("delete a line", (q) => {
  const [gone] = q.extras!.splice(i, 1);
  for (const o of q.options ?? []) o.without_extras = (o.without_extras ?? []).filter((id) => id !== gone!.id);
});
const router = useRouter();
const toPaper = () => void router.push({ path: `/jobs/${store.state.id}/papers`, query: { sheet: "quote" } });
</script>

<template>
  <div class="quote" tabindex="0" role="region" aria-label="Quote">
    <OfferPage class="page" :counted="counted" />
    <aside class="made no-print" aria-label="What makes the quote">
      <p v-for="o in counted.quote.filter(open)" :key="o.id" class="wrong" role="alert">{{ o.name }} is not complete: <template v-if="o.missing.length">{{ o.missing.length }} articles have no price ({{ o.missing.slice(0, 3).join(", ") }}{{ o.missing.length > 3 ? " …" : "" }})</template><template v-if="o.missing.length && o.labour_missing">, and </template><template v-if="o.labour_missing">an hour of work has no price</template>.</p>
      <div class="fields">
        <label>Margin on materials <JobField path="purchasing.quote.margin" label="Margin on materials" /></label>
        <label>Margin on work <JobField path="purchasing.quote.labour_margin" label="Margin on work" /></label>
        <label>Tax <JobField path="purchasing.quote.tax" label="Tax" /></label>
        <label>Holds for, days <JobField path="purchasing.quote.valid_days" label="Days for which the offer holds" /></label>
        <label>Currency <TextField :model-value="counted.currency" label="Currency" :max="3" required @update:model-value="setCurrency" /></label>
      </div>
      <h3>Options <ElButton size="small" :disabled="(quote?.options?.length ?? 0) >= 6" @click="addOption">Add an option</ElButton></h3>
      <fieldset v-for="(o, i) in quote?.options ?? []" :key="o.id">
        <legend class="visually-hidden">{{ o.name }}</legend>
        <div class="row"><TextField :model-value="o.name" :label="`Name of option ${i + 1}`" :max="80" required @update:model-value="(v) => change('rename an option', (q) => void (q.options![i]!.name = v))" /><ElButton size="small" :aria-label="`Delete ${o.name}`" @click="change('delete an option', (q) => void q.options!.splice(i, 1))">Delete</ElButton></div>
        <CheckField v-for="g in groups" :key="g" :model-value="!(o.without ?? []).includes(g)" :label="GROUPS[g]" @update:model-value="toggle(i, g, $event)">{{ GROUPS[g] }}</CheckField>
        <CheckField v-for="e in quote?.extras ?? []" :key="e.id" :model-value="!(o.without_extras ?? []).includes(e.id)" :label="e.name" @update:model-value="toggleExtra(i, e.id, $event)">{{ e.name }}</CheckField>
      </fieldset>
      <h3>Lines of your own <ElButton size="small" @click="addExtra">Add a line</ElButton></h3>
      <div v-for="(e, i) in quote?.extras ?? []" :key="e.id" class="row">
        <TextField :model-value="e.name" :label="`Line ${i + 1}`" :max="120" required @update:model-value="(v) => change('rename a line', (q) => void (q.extras![i]!.name = v))" />
        <QuantityField :model-value="e.price" quantity="factor" :min="0" :max="10000000" :label="`Price of line ${i + 1}`" @update:model-value="(v) => change('price a line', (q) => void (q.extras![i]!.price = v ?? 0))" />
        <ElButton size="small" :aria-label="`Delete line ${i + 1}`" @click="removeExtra(i)">Delete</ElButton>
      </div>
      <h3>Not included, a line each</h3>
      <TextField :model-value="counted.exclusions.join('\n')" label="Not included" :max="3000" :lines="4" @update:model-value="setExclusions" />
      <p><ElButton size="small" type="primary" :disabled="counted.quote.some(open)" @click="toPaper">Print the quote</ElButton> <span v-if="counted.quote.some(open)" class="quiet">An incomplete offer is not printed.</span></p>
    </aside>
  </div>
</template>

<style scoped>
.quote { flex: 1; min-height: 0; overflow: auto; padding: 10px 14px; display: grid; grid-template-columns: minmax(0, 1.2fr) minmax(280px, 1fr); gap: 20px; align-content: start; }
.page { background: var(--paper); border: 1px solid var(--line); padding: 14px 18px; align-self: start; }
.made h3 { display: flex; gap: 10px; align-items: center; margin: 12px 0 4px; }
.fields { display: grid; gap: 4px; }
.fields label { display: flex; justify-content: space-between; gap: 8px; align-items: center; }
.fields .el-input { width: 78px; }
.row { display: flex; gap: 6px; align-items: center; margin: 2px 0; }
fieldset { border: 1px solid var(--faint); margin: 4px 0; padding: 4px 8px; }
.wrong { color: var(--ember); font-weight: 600; }
.quiet { color: var(--soft); }
@media (max-width: 900px) { .quote { grid-template-columns: minmax(0, 1fr); } }
</style>
