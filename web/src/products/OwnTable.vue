<script setup lang="ts">
/** The job's own tubes, coverings, pumps or sources: each begins like one that is known, and is then what its maker says. */
import { Delete } from "@element-plus/icons-vue";
import { computed } from "vue";
import type { Covering, HeatSource } from "../api/client";
import { store } from "../job/store";
import ChoiceField from "../kit/ChoiceField.vue";
import DataTable from "../kit/DataTable.vue";
import JobField from "../kit/JobField.vue";
import type { Column } from "../kit/table";
import TextField from "../kit/TextField.vue";
import { figureOf } from "../job/paths";
import { COVERINGS, SOURCES } from "../words";
import PumpCurve from "./PumpCurve.vue";
import { addLike, KINDS, models, timesUsed, type Kind, type Products } from "./products";

const props = defineProps<{ kind: Kind }>();
const { job } = store;
/** One of any list, by what its cells show. */
type Own = { id?: string; name?: string; kind?: string; note?: string };
type Row = { id: string; at: number; it: Own };
const word = computed(() => KINDS[props.kind]);
const rows = computed<Row[]>(() => (((job.value as Products | null)?.[props.kind] ?? []) as Own[]).map((it, at) => ({ id: it.id ?? it.name ?? "", at, it })));

/** Figures of each kind: field, head, meaning. */
const FIGURES: Record<Kind, { type: string; of: [field: string, head: string, choice?: "usual" | "extra"][] }> = {
  tubes: { type: "Tube", of: [["od_m", "Outside"], ["wall_m", "Wall"], ["bend_radius_m", "Bend radius"], ["longest_loop_m", "Longest loop"]] },
  coverings: { type: "Covering", of: [["thickness_m", "Thickness"], ["resistance_m2k_w", "Resistance"], ["surface_limit_c", "Surface up to"], ["supply_limit_c", "Water up to"]] },
  pumps: { type: "PumpModel", of: [["most_w", "Power"]] },
  sources: { type: "HeatSource", of: [["most_w", "Rated output"], ["least_w", "Lowest output"], ["most_c", "Hottest water"], ["least_return_c", "Coolest return", "extra"], ["least_flow_l_min", "Least flow", "extra"], ["rise_k", "Largest rise", "extra"], ["kv_m3_h", "Flow factor", "extra"], ["content_l", "Water in it"]] },
};
const columns = computed<Column<Row>[]>(() => {
  const { type, of } = FIGURES[props.kind];
  const figures = of.map(([key, head, choice]): Column<Row> => ({ key, head, value: (r) => (r.it as Record<string, number | undefined>)[key], quantity: figureOf(`${type}.${key}`).quantity ?? undefined, choice, num: false }));
  return [
    { key: "name", head: "Name", value: (r) => r.it.name },
    ...(props.kind === "coverings" ? [{ key: "what", head: "Kind", value: (r: Row) => r.it.kind }] : []),
    ...(props.kind === "sources" ? [{ key: "what", head: "Kind", value: (r: Row) => SOURCES[r.it.kind as HeatSource["kind"]] }] : []),
    ...figures,
    ...(props.kind === "coverings" ? [{ key: "note", head: "How it is laid", value: (r: Row) => r.it.note, choice: "extra" as const }] : []),
    ...(props.kind === "pumps" ? [{ key: "curve", head: "Curve at full speed" }] : []),
    { key: "used", head: "", value: (r: Row) => timesUsed(job.value!, props.kind, r.it.id) || undefined },
  ];
});
/** Figures with long units. */
const WIDE = ["resistance_m2k_w", "most_w", "least_w"];
const emptyWords = computed(() => `No own ${word.value}s. One that the library has not begins like one that it has; “Keep for new jobs” on the Firm page gives it to the jobs to come.`);
const optional = (key: string) => (["least_return_c", "least_flow_l_min"].includes(key) ? "any" : undefined);
const set = (r: Row, label: string, values: Partial<Own>) => store.edit(label, (j) => Object.assign(((j as Products)[props.kind] as Own[])[r.at]!, values));
const add = (id: string) => {
  const like = models(props.kind).find((m) => m.id === id);
  if (like) store.edit(`add a ${word.value}`, (j) => addLike(j, props.kind, like.it));
};
const used = (r: Row) => timesUsed(job.value!, props.kind, r.it.id);
const remove = (r: Row) => store.edit(`delete a ${word.value}`, (j) => void (j as Products)[props.kind]!.splice(r.at, 1));
</script>

<template>
  <DataTable :id="(r) => r.id" :name="`own ${word}s`" :columns="columns" :rows="rows" :empty="emptyWords">
    <template #above>
      <div class="add">
        <ChoiceField :model-value="undefined" :options="models(kind).map((m) => ({ value: m.id, text: m.name }))" :label="`Add a ${word} like`" :empty="`Add a ${word} like …`" @update:model-value="add($event)" />
      </div>
    </template>
    <template #cell-name="{ row }"><TextField class="table-name" :model-value="row.it.name" :label="`Name of ${word} ${row.at + 1}`" required @update:model-value="set(row, `name the ${word}`, { name: $event })" /></template>
    <template #cell-what="{ row }">
      <ChoiceField v-if="kind === 'coverings'" :model-value="row.it.kind as Covering['kind']" :options="COVERINGS" :label="`Kind of ${row.it.name}`" @update:model-value="set(row, 'change the covering', { kind: $event as never })" />
      <template v-else>{{ SOURCES[row.it.kind as HeatSource["kind"]] }}</template>
    </template>
    <template v-for="[key, head] in FIGURES[kind].of" :key="key" #[`cell-${key}`]="{ row }">
      <JobField :path="`${kind}[${row.at}].${key}`" :label="`${head} of ${row.it.name}`" :empty="optional(key)" :wide="WIDE.includes(key)" />
    </template>
    <template #cell-note="{ row }"><TextField :model-value="row.it.note" :label="`How ${row.it.name} is laid`" @update:model-value="set(row, 'note how it is laid', { note: $event })" /></template>
    <template #cell-curve="{ row }"><PumpCurve :path="`pumps[${row.at}]`" :label="row.it.name ?? ''" :of="(j) => j.pumps![row.at]!" own /></template>
    <template #cell-used="{ row }">
      <ElButton link size="small" :icon="Delete" :disabled="used(row) > 0" :aria-label="`Delete ${row.it.name}`" :title="used(row) ? `It is used in ${used(row)} places of this job` : 'Delete'" @click="remove(row)" />
    </template>
  </DataTable>
</template>

<style scoped>
.table-name { min-width: 196px; }
.add { padding: 4px 12px; max-width: 284px; }
</style>
