<script setup lang="ts">
/** The variants in figures. */
import type { InTime, TimeTrial } from "../../api/client";
import { store } from "../../job/store";
import { moneyIn } from "../../kit/money";
import { show, type Quantity } from "../../units";
import { hoursOf } from "./variants";

const props = defineProps<{ runs: InTime["runs"]; names: string[]; span: TimeTrial["span"]; room: string }>();
const { job, units } = store;
const s = (q: Quantity, v: number | null | undefined) => show(q, v, units.value);
const own = (r: InTime["runs"][number]) => r.rooms.find((x) => x.id === props.room);
</script>

<template>
  <div class="table" tabindex="0" role="region" aria-label="Variants in figures">
    <table class="grid-table">
      <thead><tr><th>Variant</th><th v-if="span === 'warm_up'" class="num">warm after</th><th class="num">felt, coolest to warmest</th><th class="num">hours too cool</th><th class="num">floor up to</th><th class="num">heat</th><th class="num">starts</th><th v-if="runs.some((r) => r.condensing !== null && r.condensing !== undefined)" class="num">condensing</th><th v-if="runs.some((r) => r.seasonal)" class="num">heat over electricity</th><th v-if="runs.some((r) => r.cost !== null && r.cost !== undefined)" class="num">cost</th></tr></thead>
      <tbody>
        <tr v-for="(r, i) in runs" :key="i">
          <td>{{ names[i] }}</td>
          <td v-if="span === 'warm_up'" class="num">{{ hoursOf(own(r)?.warm_h) }}</td>
          <td class="num">{{ own(r)?.warm_h === null && span === "warm_up" ? "–" : `${s("temperature", own(r)?.felt_c[0])} to ${s("temperature", own(r)?.felt_c[1])}` }}</td>
          <td class="num">{{ Math.round(own(r)?.cool_h ?? 0).toLocaleString("en") }}</td>
          <td class="num">{{ s("temperature", own(r)?.surface_c) }}</td>
          <td class="num">{{ s("energy", r.heat_j) }}</td>
          <td class="num">{{ r.starts.toLocaleString("en") }}</td>
          <td v-if="runs.some((x) => x.condensing !== null && x.condensing !== undefined)" class="num">{{ s("share", r.condensing) }}</td>
          <td v-if="runs.some((x) => x.seasonal)" class="num">{{ r.seasonal?.toFixed(2) ?? "–" }}</td>
          <td v-if="runs.some((x) => x.cost !== null && x.cost !== undefined)" class="num">{{ moneyIn(job!.purchasing?.prices?.currency ?? "€", r.cost ?? 0) }}</td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.table { overflow-x: auto; margin-top: 8px; }
.num { text-align: right; }
</style>
