<script setup lang="ts">
/** Every loop: how its water flows, and how it is balanced. */
import { store } from "../../job/store";
import { show } from "../../units";
import { REGIMES } from "../../words";
import CircuitTable from "../loops/CircuitTable.vue";
import { valveText } from "./valve";

const { design, units } = store;
</script>

<template>
  <CircuitTable>
    <template #head><th class="num">Flow</th><th class="num">Velocity</th><th class="num">Reynolds</th><th class="num">Supply</th><th class="num">Return</th><th class="num">Pressure drop</th><th class="num">Valve closes</th></template>
    <template #loop="{ loop: l }">
      <td class="num">{{ show("flow", l.flow_l_min, units) }}</td>
      <td class="num">{{ show("velocity", l.velocity_m_s, units) }}</td>
      <td class="num">{{ Math.round(l.reynolds) }} {{ REGIMES[l.regime] }}</td>
      <td class="num">{{ show("temperature", l.supply_c, units) }}</td>
      <td class="num">{{ show("temperature", l.return_c, units) }}</td>
      <td class="num">{{ show("head", l.head_loss_pa, units) }}</td>
      <td class="num">{{ valveText(l.balancing_pa, units) }}</td>
    </template>
    <template #field="{ field: f }">
      <td class="num">{{ show("flow", f.of.flow_l_min, units) }}</td>
      <td class="num">{{ show("velocity", f.of.velocity_m_s, units) }}</td>
      <td></td>
      <td class="num">{{ show("temperature", design?.totals.supply_c, units) }}</td>
      <td class="num">{{ show("temperature", f.of.return_c, units) }}</td>
      <td class="num">{{ show("head", f.of.head_loss_pa, units) }}</td>
      <td class="num">{{ valveText(f.of.balancing_pa, units) }}</td>
    </template>
    <template #foot>
      <tr v-for="m in design?.manifolds ?? []" :key="m.id">
        <td><b>{{ m.letter }}</b></td>
        <td>{{ m.ports_used }} of {{ m.ports }} port pairs</td>
        <td class="num"><b>{{ show("flow", m.flow_l_min, units) }}</b></td>
        <td colspan="3"></td>
        <td class="num">{{ show("temperature", m.return_c, units) }}</td>
        <td class="num"><b>{{ show("head", m.head_needed_pa, units) }}</b></td>
        <td></td>
      </tr>
    </template>
    <p v-if="design?.loops.length" class="none">
      Pressure drop of a loop: its tube by Darcy–Weisbach with Churchill's friction factor, bends as extra length, both ports wide open. Follow the manufacturer's figures for valves.
    </p>
  </CircuitTable>
</template>
