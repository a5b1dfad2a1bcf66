<script setup lang="ts" generic="Row">
/**
 * A table of a ledger: sorted by its heads, its columns chosen, walked through by arrow keys, written to a CSV file; the row
 * chosen is what is chosen on the sheet. Cells are words unless a slot `cell-…` puts a field there.
 */
import { Download } from "@element-plus/icons-vue";
import { useLocalStorage } from "@vueuse/core";
import { computed, ref } from "vue";
import { store } from "../job/store";
import ColumnChoice from "./ColumnChoice.vue";
import { dialect } from "../units";
import { cellText, csv, inOrder, nextOrder, type Column, type Order } from "./table";

const props = defineProps<{
  /** "Table of rooms": what it is called, and its file. */
  name: string;
  columns: Column<Row>[];
  rows: Row[];
  id: (row: Row) => string;
  chosen?: (row: Row) => boolean;
  /** What stands in a row that has no figures. */
  blank?: (row: Row) => string | undefined;
  /** Rows under the others, by the columns' keys. */
  feet?: Record<string, string>[];
  /** What it says when there are no rows. */
  empty: string;
  /** Its buttons stand above it, not in the head of the ledger. */
  inline?: boolean;
}>();
const emit = defineEmits<{ choose: [row: Row] }>();

const { units } = store;
const choices = computed(() => props.columns.filter((c) => c.choice));
const wanted = useLocalStorage<string[]>(`fuoco-columns-${props.name.replaceAll(" ", "-")}`, choices.value.filter((c) => c.choice === "usual").map((c) => c.key));
const shown = computed(() => props.columns.filter((c) => !c.choice || wanted.value.includes(c.key)));
const order = ref<Order | null>(null);
const sorted = computed(() => inOrder(props.rows, props.columns.find((c) => c.key === order.value?.key), order.value));
const sortOf = (c: Column<Row>) => (order.value?.key !== c.key ? undefined : order.value.down ? "descending" : "ascending");

function save() {
  const link = document.createElement("a");
  link.href = URL.createObjectURL(new Blob([csv(shown.value, sorted.value, units.value)], { type: "text/csv" }));
  link.download = `${store.job.value?.name ?? "fuoco"} - ${props.name}.csv`;
  link.click();
  URL.revokeObjectURL(link.href);
}

const CAN_FOCUS = "input:not([type='hidden']), button, a, [tabindex]";
/** Up and down go to the row above and below; left and right to the next cell, where no text is edited. */
function walk(e: KeyboardEvent) {
  const from = e.target as HTMLElement;
  const cell = from.closest("td");
  const row = cell?.closest("tr");
  // a choice opens with these keys
  if (!cell || !row || from.getAttribute("role") === "combobox" || e.altKey || e.ctrlKey || e.metaKey) return;
  const across = e.key === "ArrowLeft" || e.key === "ArrowRight";
  if (across && from instanceof HTMLInputElement && from.type === "text") return;
  const step = e.key === "ArrowUp" || e.key === "ArrowLeft" ? -1 : e.key === "ArrowDown" || e.key === "ArrowRight" ? 1 : 0;
  if (!step) return;
  const stop = (of: Element | undefined) => (of?.matches(CAN_FOCUS) ? of : of?.querySelector(CAN_FOCUS)) as HTMLElement | null | undefined;
  const list = across ? [...row.cells] : [...row.parentElement!.children].map((r) => (r as HTMLTableRowElement).cells[cell.cellIndex]).filter((c) => c !== undefined);
  for (let i = list.indexOf(cell) + step; i >= 0 && i < list.length; i += step) {
    const next = stop(list[i]);
    if (!next) continue;
    next.focus();
    e.preventDefault();
    return;
  }
}
/** A head in the words of the viewer, and of a job outdoors, where rooms are areas. */
const headOf = (head: string) => dialect(store.job.value?.outdoors ? head.replace(/^Room(s?)$/, "Area$1") : head, units.value);
</script>

<template>
  <div class="table-tools no-print" :class="{ inline }">
    <ColumnChoice v-if="choices.length" v-model="wanted" :names="Object.fromEntries(choices.map((c) => [c.key, headOf(c.head)]))" />
    <ElButton size="small" text :icon="Download" :disabled="!rows.length" :aria-label="`Table of ${name} as a CSV file`" @click="save">CSV</ElButton>
  </div>
  <div class="scroll" tabindex="0" role="region" :aria-label="`Table of ${name}`">
    <slot name="above" />
    <table class="grid-table">
      <thead>
        <tr>
          <th v-for="c in shown" :key="c.key" :class="{ num: c.num ?? c.quantity }" :aria-sort="sortOf(c)" :title="c.title">
            <ElButton v-if="c.value && c.head" link class="sort" @click="order = nextOrder(order, c.key)"><i v-if="c.tint" class="key" :style="{ background: c.tint }"></i>{{ headOf(c.head) }}<span v-if="sortOf(c)" aria-hidden="true">{{ order?.down ? " ▾" : " ▴" }}</span></ElButton>
            <template v-else>{{ headOf(c.head) }}</template>
          </th>
        </tr>
      </thead>
      <tbody @keydown="walk">
        <tr v-for="row in sorted" :key="id(row)" :class="{ chosen: chosen?.(row) }" @focusin="emit('choose', row)">
          <template v-for="(c, i) in shown" :key="c.key">
            <td v-if="i === 0">
              <slot :name="`cell-${c.key}`" :row="row"><ElButton link type="primary" @click="emit('choose', row)">{{ cellText(c, row, units) }}</ElButton></slot>
            </td>
            <td v-else-if="!blank?.(row)" :class="{ num: c.num ?? c.quantity }" :title="c.from?.(row) || undefined" :tabindex="c.from?.(row) ? -1 : undefined">
              <slot :name="`cell-${c.key}`" :row="row">{{ cellText(c, row, units) }}</slot>
            </td>
            <td v-else-if="i === 1" :colspan="shown.length - 1" class="none">{{ blank(row) }}</td>
          </template>
        </tr>
        <tr v-if="!rows.length"><td :colspan="shown.length" class="none">{{ empty }}</td></tr>
      </tbody>
      <tfoot v-if="feet?.length && rows.length">
        <tr v-for="(foot, i) in feet" :key="i"><td v-for="c in shown" :key="c.key" :class="{ num: c.num ?? c.quantity }">{{ foot[c.key] ?? "" }}</td></tr>
      </tfoot>
    </table>
    <slot />
  </div>
</template>

<style scoped>
.scroll { overflow: auto; flex: 1; min-height: 0; }
.none { color: var(--soft); white-space: normal; }
.key { display: inline-block; width: 9px; height: 9px; margin-right: 4px; border: 1px solid var(--line); }
.sort.el-button { color: inherit; font-weight: 600; font-size: 13px; padding: 0; height: auto; }
tfoot td { border-top: 1px solid var(--line); font-weight: 600; }
.table-tools:not(.inline) { position: absolute; right: 130px; top: 0; }
.table-tools.inline { text-align: right; padding: 0 8px; }
.scroll :deep(td > .choice) { width: 104px; min-width: 0; }
.scroll :deep(td > .choice.narrow) { width: 76px; }
.scroll :deep(td > .el-input) { width: 130px; }
.scroll :deep(td .quantity.el-input) { width: 78px; }
.scroll :deep(td .quantity.el-input.wide) { width: 108px; }
@media (max-width: 900px) { .table-tools:not(.inline) { position: static; text-align: right; } }
</style>
