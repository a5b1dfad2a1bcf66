<script setup lang="ts">
/** Watts of every room by cause, and where they go. */
import { computed } from "vue";
import { CAUSES } from "../components/words";
import type { RoomDesign } from "../api/client";
import { store } from "../job/store";
import { show } from "../units";

const { design, state, units } = store;
const rooms = computed(() => design.value?.rooms ?? []);
const causes = Object.keys(CAUSES) as (keyof typeof CAUSES)[];
const by = (r: RoomDesign, cause: string) => r.loss_parts.filter((p) => p.cause === cause).reduce((sum, p) => sum + p.heat_w, 0);
const total = (f: (r: RoomDesign) => number) => rooms.value.reduce((sum, r) => sum + f(r), 0);
/** The arithmetic behind a figure, in the job's units. */
const how = (r: RoomDesign, cause: string) =>
  r.loss_parts
    .filter((p) => p.cause === cause)
    .map((p) => {
      const result = `${show("difference", p.difference_k, units.value)} = ${show("heat", p.heat_w, units.value)}`;
      return cause === "air"
        ? `${show("volume", p.amount, units.value)} an hour × ${show("volumetric", p.per_kelvin, units.value)} × ${result}`
        : `${show("area", p.amount, units.value)} × ${show("transmittance", p.per_kelvin, units.value)} × ${result}`;
    })
    .join("\n");
</script>

<template>
  <div class="scroll" tabindex="0" role="region" aria-label="Table of heat losses">
    <table class="grid-table">
      <thead><tr><th>Room</th><th v-for="c in causes" :key="c" class="num">{{ CAUSES[c] }}</th><th class="num">Loss</th><th class="num">of heatable floor</th><th class="num">of all floor</th></tr></thead>
      <tbody>
        <tr v-for="r in rooms" :key="r.id" :class="{ chosen: state.selection?.id === r.id }">
          <td><button class="plain link" @click="store.select({ kind: 'room', id: r.id })">{{ r.name }}</button></td>
          <td v-for="c in causes" :key="c" class="num" :title="how(r, c)">{{ show("heat", by(r, c), units) }}</td>
          <td class="num"><b>{{ show("heat", r.heat_loss_w, units) }}</b></td>
          <td class="num">{{ show("flux", r.flux_needed_w_m2, units) }}</td>
          <td class="num">{{ show("flux", r.area_m2 > 0 ? r.heat_loss_w / r.area_m2 : 0, units) }}</td>
        </tr>
      </tbody>
      <tfoot v-if="rooms.length">
        <tr>
          <td><b>Building</b></td>
          <td v-for="c in causes" :key="c" class="num">{{ show("heat", total((r) => by(r, c)), units) }}</td>
          <td class="num"><b>{{ show("heat", total((r) => r.heat_loss_w), units) }}</b></td>
          <td class="num">{{ show("flux", total((r) => r.heat_loss_w) / Math.max(1e-9, total((r) => r.heatable_area_m2)), units) }}</td>
          <td class="num">{{ show("flux", total((r) => r.heat_loss_w) / Math.max(1e-9, total((r) => r.area_m2)), units) }}</td>
        </tr>
      </tfoot>
    </table>
    <p v-if="!rooms.length" class="none">No rooms yet. Draw them at Rooms; their losses stand here as you draw.</p>
  </div>
</template>

<style scoped>
.scroll { overflow: auto; flex: 1; min-height: 0; }
.none { padding: 12px; color: var(--soft); }
</style>
