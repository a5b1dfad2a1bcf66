<script setup lang="ts">
/** Every loop: how its water flows, and how it is balanced. */
import { computed } from "vue";
import { store } from "../../job/store";
import type { Column } from "../../kit/table";
import { dialect, show } from "../../units";
import { REGIMES } from "../../words";
import CircuitTable from "../loops/CircuitTable.vue";
import type { CircuitRow } from "../loops/circuits";
import { valveText } from "./valve";

const { design, units } = store;
const valve = (r: CircuitRow) => r.loop ?? r.field?.of;
const figures: Column<CircuitRow>[] = [
  { key: "flow", head: "Flow", value: (r) => r.loop?.flow_l_min ?? r.field?.of.flow_l_min, quantity: "flow" },
  { key: "velocity", head: "Velocity", value: (r) => r.loop?.velocity_m_s ?? r.field?.of.velocity_m_s, quantity: "velocity" },
  { key: "reynolds", head: "Reynolds", value: (r) => r.loop?.reynolds, text: (r) => (r.loop ? `${Math.round(r.loop.reynolds)} ${REGIMES[r.loop.regime]}` : ""), num: true },
  { key: "supply", head: "Supply", value: (r) => r.loop?.supply_c ?? design.value?.totals.supply_c, quantity: "temperature" },
  { key: "return", head: "Return", value: (r) => (r.loop ? r.loop.return_c : r.field?.of.return_c), quantity: "temperature" },
  { key: "drop", head: "Pressure drop", value: (r) => r.loop?.head_loss_pa ?? r.field?.of.head_loss_pa, quantity: "head" },
  { key: "valve", head: "Valve closes", value: (r) => valve(r)?.balancing_pa, quantity: "head", text: (r) => (valve(r) ? valveText(valve(r)!, units.value) : "") },
];
const feet = computed(() =>
  (design.value?.manifolds ?? []).map((m) => ({
    loop: m.letter,
    rooms: `${m.ports_used} of ${m.ports} port pairs`,
    flow: show("flow", m.flow_l_min, units.value),
    return: show("temperature", m.return_c, units.value),
    drop: show("head", m.head_needed_pa, units.value),
  })),
);
</script>

<template>
  <CircuitTable :figures="figures" :feet="feet">
    <p v-if="design?.loops.length" class="how">
      {{ dialect("Pressure drop", units) }} of a loop: its tube by Darcy–Weisbach with Churchill's friction factor, bends as extra length, both ports wide open. Follow the manufacturer's figures for valves.
    </p>
  </CircuitTable>
</template>

<style scoped>
.how { color: var(--soft); padding: 6px 8px; margin: 0; }
</style>
