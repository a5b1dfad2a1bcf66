<script setup lang="ts">
/** Heat loss of every room by cause, and where it goes; the building as a whole beneath. */
import { computed } from "vue";
import type { RoomDesign } from "../../api/client";
import { arithmetic, heatBy as by, type Cause } from "../../job/loss";
import { store } from "../../job/store";
import DataTable from "../../kit/DataTable.vue";
import type { Column } from "../../kit/table";
import { show } from "../../units";
import { CAUSE_TINTS, CAUSES } from "../../words";

const { design, where, units } = store;
const rooms = computed(() => design.value?.rooms ?? []);
const heated = computed(() => rooms.value.filter((r) => r.heated));
/** Causes by which any room gains or loses. */
const causes = computed(() => (Object.keys(CAUSES) as Cause[]).filter((c) => rooms.value.some((r) => Math.abs(by(r, c)) > 0.5)));
const total = (f: (r: RoomDesign) => number) => heated.value.reduce((sum, r) => sum + f(r), 0);
const how = (r: RoomDesign, cause: Cause) => r.loss_parts.filter((p) => p.cause === cause).map((p) => arithmetic(r, p, units.value)).join("\n");
const most = computed(() => Math.max(1, ...heated.value.map((r) => r.loss_parts.reduce((s, p) => s + Math.max(0, p.heat_w), 0))));
const bars = (r: RoomDesign) => causes.value.map((c) => ({ c, w: Math.max(0, by(r, c)) })).filter((b) => b.w > 0);
const saving = (r: RoomDesign) => r.savings[0];
const rates = computed(() => design.value?.totals.flat_rates ?? []);
const flux = (heat: number, area: number) => heat / Math.max(1e-9, area);
const columns = computed<Column<RoomDesign>[]>(() => [
  { key: "room", head: "Room", value: (r) => r.name },
  { key: "loss", head: "Loss", value: (r) => r.heat_loss_w, quantity: "heat" },
  { key: "where", head: "Where it goes" },
  ...causes.value.map((c): Column<RoomDesign> => ({ key: c, head: CAUSES[c], value: (r) => by(r, c), quantity: "heat", tint: CAUSE_TINTS[c], from: (r) => how(r, c) })),
  { key: "heatable", head: "of heatable floor", value: (r) => r.flux_needed_w_m2, quantity: "flux", choice: "extra" },
  { key: "all", head: "of all floor", value: (r) => flux(r.heat_loss_w, r.area_m2), quantity: "flux", choice: "extra" },
  { key: "help", head: "Would help most", choice: "extra", value: (r) => saving(r)?.heat_w, text: (r) => (saving(r) ? `${saving(r)!.measure} saves ${show("heat", saving(r)!.heat_w, units.value)}` : "") },
  ...rates.value.map((f, i): Column<RoomDesign> => ({ key: `rate-${i}`, head: `${f.name}, ${show("flux", f.w_m2, units.value)}`, choice: "extra", value: (r) => r.flat_rates_w[i], quantity: "heat" })),
]);
const feet = computed(() => {
  const heat = (w: number | undefined) => show("heat", w, units.value);
  return [
    {
      room: (design.value?.building.windward_w ?? 0) > 0.5 ? "Rooms together" : "Building",
      ...Object.fromEntries(causes.value.map((c) => [c, heat(total((r) => by(r, c)))])),
      loss: heat(design.value?.totals.heat_loss_w),
      heatable: show("flux", flux(total((r) => r.heat_loss_w), total((r) => r.heatable_area_m2)), units.value),
      all: show("flux", flux(total((r) => r.heat_loss_w), total((r) => r.area_m2)), units.value),
      ...Object.fromEntries(rates.value.map((f, i) => [`rate-${i}`, heat(f.heat_w)])),
    },
  ];
});
</script>

<template>
  <DataTable
    :id="(r) => r.id" name="heat losses" :columns="columns" :rows="rooms" :chosen="(r) => where.selection?.id === r.id" :feet="feet"
    :blank="(r) => (r.heated ? undefined : `unheated: settles at ${show('temperature', r.temperature_c, units)} on the design day`)"
    empty="No rooms yet. Draw them at Rooms; their losses stand here as you draw." @choose="(r) => store.select({ kind: 'room', id: r.id })">
    <template #cell-where="{ row: r }">
      <svg class="bar" width="80" height="14" role="img" :aria-label="`${r.name}: ${bars(r).map((b) => `${CAUSES[b.c]} ${show('heat', b.w, units)}`).join(', ')}`">
        <rect v-for="(b, i) in bars(r)" :key="b.c" :x="(bars(r).slice(0, i).reduce((s, o) => s + o.w, 0) / most) * 80" y="1" :width="Math.max(0.5, (b.w / most) * 80)" height="12" :fill="CAUSE_TINTS[b.c]"><title>{{ CAUSES[b.c] }} {{ show("heat", b.w, units) }}</title></rect>
      </svg>
    </template>
    <template #cell-loss="{ row: r }"><b>{{ show("heat", r.heat_loss_w, units) }}</b></template>
  </DataTable>
</template>

<style scoped>
.bar { display: block; }
.bar rect { stroke: var(--floor); stroke-width: 0.5; }
</style>
