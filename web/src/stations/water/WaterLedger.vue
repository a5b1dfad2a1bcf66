<script setup lang="ts">
/** Every loop: how its water flows, and how it is balanced. */
import { computed } from "vue";
import { fieldRows } from "../../job/fields";
import { store } from "../../job/store";
import { show } from "../../units";
import { REGIMES } from "../../words";

const { job, design, where, units } = store;
const loops = computed(() => design.value?.loops ?? []);
const fields = computed(() => fieldRows(job.value, design.value));
const names = (ids: string[]) => ids.map((id) => job.value?.rooms.find((r) => r.id === id)?.name).join(", ");
/** Less than this to throttle is the index loop, Pa. */
const INDEX_PA = 1;
</script>

<template>
  <div class="scroll" tabindex="0" role="region" aria-label="Table of loops">
    <table class="grid-table">
      <thead>
        <tr><th>Loop</th><th>Rooms</th><th class="num">Flow</th><th class="num">Velocity</th><th class="num">Reynolds</th><th class="num">Supply</th><th class="num">Return</th><th class="num">Pressure drop</th><th class="num">Valve closes</th></tr>
      </thead>
      <tbody>
        <tr v-for="l in loops" :key="l.id" :class="{ chosen: where.selection?.id === l.id }">
          <td><ElButton link type="primary" @click="store.select({ kind: 'loop', id: l.id })">{{ l.tag }}</ElButton></td>
          <td>{{ names(l.room_ids) }}</td>
          <td class="num">{{ show("flow", l.flow_l_min, units) }}</td>
          <td class="num">{{ show("velocity", l.velocity_m_s, units) }}</td>
          <td class="num">{{ Math.round(l.reynolds) }} {{ REGIMES[l.regime] }}</td>
          <td class="num">{{ show("temperature", l.supply_c, units) }}</td>
          <td class="num">{{ show("temperature", l.return_c, units) }}</td>
          <td class="num">{{ show("head", l.head_loss_pa, units) }}</td>
          <td class="num">{{ l.balancing_pa < INDEX_PA ? "index loop: open" : show("head", l.balancing_pa, units) }}</td>
        </tr>
        <tr v-for="f in fields" :key="f.id">
          <td>{{ f.tag }}</td>
          <td>{{ f.name }}</td>
          <td class="num">{{ show("flow", f.of.flow_l_min, units) }}</td>
          <td class="num">{{ show("velocity", f.of.velocity_m_s, units) }}</td>
          <td></td>
          <td class="num">{{ show("temperature", design?.totals.supply_c, units) }}</td>
          <td class="num">{{ show("temperature", f.of.return_c, units) }}</td>
          <td class="num">{{ show("head", f.of.head_loss_pa, units) }}</td>
          <td class="num">{{ f.of.balancing_pa < INDEX_PA ? "index circuit: open" : show("head", f.of.balancing_pa, units) }}</td>
        </tr>
      </tbody>
      <tfoot>
        <tr v-for="m in design?.manifolds ?? []" :key="m.id">
          <td><b>{{ m.letter }}</b></td>
          <td>{{ m.ports_used }} of {{ m.ports }} port pairs</td>
          <td class="num"><b>{{ show("flow", m.flow_l_min, units) }}</b></td>
          <td colspan="3"></td>
          <td class="num">{{ show("temperature", m.return_c, units) }}</td>
          <td class="num"><b>{{ show("head", m.head_needed_pa, units) }}</b></td>
          <td></td>
        </tr>
      </tfoot>
    </table>
    <p v-if="!loops.length" class="none">
      {{ !design ? "Calculating…" : job?.manifolds.length ? "No loops could be drawn: the verdict says why." : "No loops yet. Hang a manifold at Rooms (M) and they draw themselves." }}
    </p>
    <p v-if="loops.length" class="none">
      Head of a loop: its tube by Darcy–Weisbach with Churchill's friction factor, bends as extra length, both ports wide open. Follow the manufacturer's figures for valves.
    </p>
  </div>
</template>

<style scoped>
.scroll { overflow: auto; flex: 1; min-height: 0; }
.none { color: var(--soft); padding: 6px 8px; margin: 0; }
tfoot td { border-top: 1px solid var(--line); }
</style>
