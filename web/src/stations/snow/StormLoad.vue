<script setup lang="ts">
/** The storm an area is designed for, what it takes by its parts, and what that means for slab, fluid and source. */
import { computed } from "vue";
import { store } from "../../job/store";
import JobField from "../../kit/JobField.vue";
import { show, type Quantity } from "../../units";
import { PARTS, partOf } from "./area";
import HouseFirst from "./HouseFirst.vue";

const { job, design, units } = store;
const s = (q: Quantity, v: number | null | undefined) => show(q, v, units.value);
const found = computed(() => design.value?.outdoors);
const name = (id: string) => job.value?.rooms.find((r) => r.id === id)?.name ?? id;
const most = computed(() => Math.max(1, ...(found.value?.areas ?? []).map((a) => PARTS.reduce((sum, p) => sum + partOf(a, p.key), 0))));
const circuit = computed(() => design.value?.circuits.find((c) => c.supply_c !== null && c.supply_c !== undefined));
const circuitName = (id: string) => design.value?.circuits.find((c) => c.id === id)?.name ?? "";
</script>

<template>
  <div class="load">
    <section aria-labelledby="storm-title" class="wide">
      <h3 id="storm-title">The storm</h3>
      <div class="fields">
        <label>Air <JobField path="outdoors.storm.air_c" label="Air in the storm" /></label>
        <label>Wind <JobField path="outdoors.storm.wind_m_s" label="Wind in the storm" /></label>
        <label>Humidity <JobField path="outdoors.storm.humidity" label="Humidity in the storm" /></label>
        <label>Snow, as water <JobField path="outdoors.storm.snowfall_mm_h" label="Snowfall" /></label>
        <label>Lasts, hours <JobField path="outdoors.storm.lasts_h" label="Hours of snow" /></label>
        <label>Ground below <JobField path="site.ground_c" label="Ground under the slab" hint="Under the slab in the time of snow, with the frost in it" /></label>
      </div>
    </section>
    <section aria-labelledby="takes-title" class="wide">
      <h3 id="takes-title">What it takes</h3>
      <div v-if="found" class="table" tabindex="0" role="region" aria-label="Storm by areas">
      <table class="grid-table">
        <thead><tr><th>Area</th><th class="num">takes</th><th class="bars"><span v-for="p in PARTS" :key="p.key" class="k"><i :style="{ background: p.tint }"></i>{{ p.word }}</span></th><th class="num">gets</th><th class="num">to the ground</th><th class="num">coolest line</th></tr></thead>
        <tbody>
          <tr v-for="a in found.areas" :key="a.id">
            <td>{{ name(a.id) }}</td>
            <td class="num">{{ s("flux", a.load.total) }}</td>
            <td class="bars">
              <span class="bar" role="img" :aria-label="PARTS.map((p) => `${p.word} ${s('flux', a.load[p.key])}`).join(', ')">
                <i v-for="p in PARTS" :key="p.key" :style="{ width: `${(100 * partOf(a, p.key)) / most}%`, background: p.tint }" :title="`${p.word}: ${s('flux', a.load[p.key])}`"></i>
              </span>
            </td>
            <td class="num">{{ a.flux_w_m2 ? s("flux", a.flux_w_m2) : "no loops" }}</td>
            <td class="num">{{ s("flux", a.down_w_m2) }}</td>
            <td class="num" :class="{ bad: (a.coolest_c ?? 1) < 0 && a.free_area_ratio > 0 }">{{ s("temperature", a.coolest_c) }}</td>
          </tr>
        </tbody>
      </table>
      </div>
      <p v-if="circuit" class="sum">
        Fluid <b>{{ s("temperature", circuit.supply_c) }}</b> there, <b>{{ s("temperature", circuit.return_c) }}</b> back, {{ s("flow", circuit.flow_l_min) }}; the source gives <b>{{ s("heat", circuit.heat_w) }}</b><template v-if="found">, {{ s("heat", found.down_w) }} of it to the ground</template>.
      </p>
    </section>
    <section aria-labelledby="run-title">
      <h3 id="run-title">How it is run</h3>
      <dl>
        <dt>Largest difference of water over slab</dt><dd><JobField path="outdoors.shock_k" label="Largest difference of water over slab" /></dd>
        <dt>Idling holds the surface at</dt><dd><JobField path="outdoors.idle_surface_c" label="Idling holds the surface at" /></dd>
        <dt>when the air is below</dt><dd><JobField path="outdoors.idle_below_c" label="Idling begins below" /></dd>
        <dt>By hand: on so many hours late</dt><dd><JobField path="outdoors.late_h" label="By hand, hours late" /></dd>
        <dt>the timer runs, hours</dt><dd><JobField path="outdoors.timer_h" label="Hours of the timer" /></dd>
        <dt>Sensor: runs on to dry it, hours</dt><dd><JobField path="outdoors.runs_on_h" label="Hours it runs on" /></dd>
      </dl>
    </section>
    <section aria-labelledby="fluid-title">
      <h3 id="fluid-title">Fluid and source</h3>
      <dl v-if="found">
        <dt>Freezes at</dt><dd>{{ s("temperature", found.freezing_c) }}</dd>
        <template v-for="c in found.starts" :key="c.circuit_id">
          <dt>Cold start{{ found.starts.length > 1 ? `, ${circuitName(c.circuit_id)}` : "" }}</dt>
          <dd>at {{ s("temperature", c.fluid_c) }} its longest loop takes {{ s("head", c.cold_pa) }} in place of {{ s("head", c.warm_pa) }} ({{ (c.cold_pa / Math.max(1, c.warm_pa)).toFixed(1) }} times); the same head carries {{ s("share", c.flow_share) }} of the flow</dd>
        </template>
      </dl>
      <HouseFirst />
    </section>
  </div>
</template>

<style scoped>
.load { display: grid; grid-template-columns: repeat(auto-fit, minmax(300px, 1fr)); gap: 10px 24px; align-content: start; }
.wide { grid-column: 1 / -1; min-width: 0; }
.table { overflow-x: auto; }
.fields { display: flex; flex-wrap: wrap; gap: 6px 18px; }
.fields label { display: grid; gap: 2px; color: var(--soft); }
h3 { margin: 6px 0; font-size: 14px; }
dl { display: grid; grid-template-columns: minmax(120px, 1fr) minmax(0, 1fr); gap: 4px 10px; align-items: center; margin: 0; }
dt { color: var(--soft); }
dd { margin: 0; }
.num { text-align: right; }
.bars { min-width: 170px; width: 45%; }
.k { font-weight: 400; margin-right: 8px; white-space: nowrap; }
.k i { display: inline-block; width: 9px; height: 9px; margin-right: 3px; }
.bar { display: flex; height: 14px; }
.bar i { display: block; height: 100%; }
.bad { color: var(--ember); font-weight: 650; }
.sum { margin: 8px 0 0; }
</style>
