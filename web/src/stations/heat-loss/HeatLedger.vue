<script setup lang="ts">
/** Watts of every room by cause, and where they go; the building as a whole beside it. */
import { computed } from "vue";
import { CAUSE_TINTS, CAUSES } from "../../words";
import type { RoomDesign } from "../../api/client";
import { arithmetic, heatBy as by, type Cause } from "../../job/loss";
import { store } from "../../job/store";
import { show } from "../../units";

const { design, where, units } = store;
const rooms = computed(() => design.value?.rooms ?? []);
const heated = computed(() => rooms.value.filter((r) => r.heated));
const causes = computed(() => (Object.keys(CAUSES) as Cause[]).filter((c) => rooms.value.some((r) => r.loss_parts.some((p) => p.cause === c))));
const total = (f: (r: RoomDesign) => number) => heated.value.reduce((sum, r) => sum + f(r), 0);
/** The arithmetic behind a figure. */
const how = (r: RoomDesign, cause: Cause) => r.loss_parts.filter((p) => p.cause === cause).map((p) => arithmetic(r, p, units.value)).join("\n");
const most = computed(() => Math.max(1, ...heated.value.map((r) => r.loss_parts.reduce((s, p) => s + Math.max(0, p.heat_w), 0))));
const bars = (r: RoomDesign) => causes.value.map((c) => ({ c, w: Math.max(0, by(r, c)) })).filter((b) => b.w > 0);
const help = (r: RoomDesign) => r.savings[0];
</script>

<template>
  <div class="scroll" tabindex="0" role="region" aria-label="Table of heat losses">
    <table class="grid-table">
      <thead>
        <tr>
          <th>Room</th><th>Where it goes</th>
          <th v-for="c in causes" :key="c" class="num"><i :style="{ background: CAUSE_TINTS[c] }"></i>{{ CAUSES[c] }}</th>
          <th class="num">Loss</th><th class="num">of heatable floor</th><th class="num">of all floor</th><th>Would help most</th>
          <th v-for="f in design?.totals.flat_rates" :key="f.name" class="num" :title="f.name">{{ show("flux", f.w_m2, units) }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="r in rooms" :key="r.id" :class="{ chosen: where.selection?.id === r.id }">
          <td><ElButton link type="primary" @click="store.select({ kind: 'room', id: r.id })">{{ r.name }}</ElButton></td>
          <template v-if="r.heated">
            <td>
              <svg class="bar" width="150" height="14" role="img" :aria-label="`${r.name}: ${bars(r).map((b) => `${CAUSES[b.c]} ${show('heat', b.w, units)}`).join(', ')}`">
                <rect v-for="(b, i) in bars(r)" :key="b.c" :x="(bars(r).slice(0, i).reduce((s, o) => s + o.w, 0) / most) * 150" y="1" :width="Math.max(0.5, (b.w / most) * 150)" height="12" :fill="CAUSE_TINTS[b.c]"><title>{{ CAUSES[b.c] }} {{ show("heat", b.w, units) }}</title></rect>
              </svg>
            </td>
            <td v-for="c in causes" :key="c" class="num" :title="how(r, c)">{{ show("heat", by(r, c), units) }}</td>
            <td class="num"><b>{{ show("heat", r.heat_loss_w, units) }}</b></td>
            <td class="num">{{ show("flux", r.flux_needed_w_m2, units) }}</td>
            <td class="num">{{ show("flux", r.area_m2 > 0 ? r.heat_loss_w / r.area_m2 : 0, units) }}</td>
            <td>{{ help(r) ? `${help(r)!.measure} saves ${show("heat", help(r)!.heat_w, units)}` : "" }}</td>
            <td v-for="(w, i) in r.flat_rates_w" :key="i" class="num">{{ show("heat", w, units) }}</td>
          </template>
          <td v-else :colspan="causes.length + 6" class="quiet">unheated: settles at {{ show("temperature", r.temperature_c, units) }} on the design day</td>
        </tr>
      </tbody>
      <tfoot v-if="rooms.length">
        <tr>
          <td><b>{{ (design?.building.windward_w ?? 0) > 0.5 ? "Rooms together" : "Building" }}</b></td><td></td>
          <td v-for="c in causes" :key="c" class="num">{{ show("heat", total((r) => by(r, c)), units) }}</td>
          <td class="num"><b>{{ show("heat", design?.totals.heat_loss_w, units) }}</b></td>
          <td class="num">{{ show("flux", total((r) => r.heat_loss_w) / Math.max(1e-9, total((r) => r.heatable_area_m2)), units) }}</td>
          <td class="num">{{ show("flux", total((r) => r.heat_loss_w) / Math.max(1e-9, total((r) => r.area_m2)), units) }}</td>
          <td></td>
          <td v-for="f in design?.totals.flat_rates" :key="f.name" class="num" :title="f.name">{{ show("heat", f.heat_w, units) }}</td>
        </tr>
      </tfoot>
    </table>
    <p v-if="!rooms.length" class="none">No rooms yet. Draw them at Rooms; their losses stand here as you draw.</p>
  </div>
</template>

<style scoped>
.scroll { overflow: auto; flex: 1; min-height: 0; }
.none, .quiet { color: var(--soft); }
.none { padding: 12px; }
th i { display: inline-block; width: 9px; height: 9px; margin-right: 4px; border: 1px solid #82786a; }
.bar { display: block; }
.bar rect { stroke: #fff; stroke-width: 0.5; }
</style>
