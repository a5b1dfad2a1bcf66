<script setup lang="ts">
/** Every loop: how long it is, and for the water station how it flows and is balanced. */
import { computed } from "vue";
import ManifoldPlaces from "../loops/ManifoldPlaces.vue";
import { fieldRows } from "../job/fields";
import { store } from "../job/store";
import { show } from "../units";

defineProps<{ water?: boolean }>();
const { job, design, state, units } = store;
const loops = computed(() => design.value?.loops ?? []);
const fields = computed(() => fieldRows(job.value, design.value));
const names = (ids: string[]) => ids.map((id) => job.value?.rooms.find((r) => r.id === id)?.name).join(", ");
const regime = (re: number) => (re <= 0 ? "still" : re < 2300 ? "laminar" : re < 4000 ? "between" : "turbulent");
const worst = (l: (typeof loops.value)[number]) => l.balancing_pa < 1;
</script>

<template>
  <div class="scroll" tabindex="0" role="region" aria-label="Table of loops">
    <table class="grid-table">
      <thead>
        <tr v-if="!water"><th>Loop</th><th>Rooms</th><th class="num">Length</th><th class="num">of the limit</th><th class="num">Leaders</th><th class="num">Spacing</th><th>Tube</th><th class="num">Heat up</th><th class="num">Heat down</th></tr>
        <tr v-else><th>Loop</th><th>Rooms</th><th class="num">Flow</th><th class="num">Velocity</th><th class="num">Reynolds</th><th class="num">Supply</th><th class="num">Return</th><th class="num">Pressure drop</th><th class="num">Valve closes</th></tr>
      </thead>
      <tbody>
        <tr v-for="l in loops" :key="l.id" :class="{ chosen: state.selection?.id === l.id }">
          <td><button class="plain link" @click="store.select({ kind: 'loop', id: l.id })">{{ l.tag }}</button><template v-if="!water && l.locked"> {{ l.by_hand ? "by hand" : "locked" }}</template></td>
          <td>{{ names(l.room_ids) }}</td>
          <template v-if="!water">
            <td class="num">{{ show("tube", l.length_m, units) }}</td>
            <td class="num">{{ show("share", l.length_m / l.limit_m, units) }}</td>
            <td class="num">{{ show("tube", l.leader_length_m, units) }}</td>
            <td class="num">{{ show("size", l.spacing_m, units) }}</td>
            <td>{{ store.library.value?.tubes.find((t) => t.id === l.tube_id)?.name }}</td>
            <td class="num">{{ show("heat", l.output_up_w, units) }}</td>
            <td class="num">{{ show("heat", l.output_down_w, units) }}</td>
          </template>
          <template v-else>
            <td class="num">{{ show("flow", l.flow_l_min, units) }}</td>
            <td class="num">{{ show("velocity", l.velocity_m_s, units) }}</td>
            <td class="num">{{ Math.round(l.reynolds) }} {{ regime(l.reynolds) }}</td>
            <td class="num">{{ show("temperature", l.supply_c, units) }}</td>
            <td class="num">{{ show("temperature", l.return_c, units) }}</td>
            <td class="num">{{ show("head", l.head_loss_pa, units) }}</td>
            <td class="num">{{ worst(l) ? "index loop: open" : show("head", l.balancing_pa, units) }}</td>
          </template>
        </tr>
        <tr v-for="f in fields" :key="f.id">
          <td>{{ f.tag }}</td>
          <td>{{ f.name }}</td>
          <template v-if="!water">
            <td class="num">{{ show("tube", f.of.tube_m, units) }}</td>
            <td colspan="3"></td>
            <td>{{ store.library.value?.tubes.find((t) => t.id === f.tube)?.name }}</td>
            <td class="num">{{ show("heat", f.of.heat_w, units) }}</td>
            <td class="num">{{ show("heat", f.of.back_w, units) }}</td>
          </template>
          <template v-else>
            <td class="num">{{ show("flow", f.of.flow_l_min, units) }}</td>
            <td class="num">{{ show("velocity", f.of.velocity_m_s, units) }}</td>
            <td></td>
            <td class="num">{{ show("temperature", design?.totals.supply_c, units) }}</td>
            <td class="num">{{ show("temperature", f.of.return_c, units) }}</td>
            <td class="num">{{ show("head", f.of.head_loss_pa, units) }}</td>
            <td class="num">{{ f.of.balancing_pa < 1 ? "worst: open" : show("head", f.of.balancing_pa, units) }}</td>
          </template>
        </tr>
      </tbody>
      <tfoot v-if="water">
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
      {{ job?.manifolds.length ? "No loops could be drawn: the verdict says why." : "No loops yet. Hang a manifold at Rooms (M) and they draw themselves." }}
    </p>
    <ManifoldPlaces v-if="!water && job?.rooms.length && !job.manifolds.length" />
    <p v-if="water && loops.length" class="none">
      Head of a loop: its tube by Darcy–Weisbach with Churchill's friction factor, bends as extra length, both ports wide open. Follow the manufacturer's figures for valves.
    </p>
  </div>
</template>

<style scoped>
.scroll { overflow: auto; flex: 1; min-height: 0; }
.none { color: var(--soft); padding: 6px 8px; margin: 0; }
tfoot td { border-top: 1px solid var(--line); }
</style>
