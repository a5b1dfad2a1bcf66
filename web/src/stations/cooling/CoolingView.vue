<script setup lang="ts">
/** Cooling: the lowest safe water, the humid week, what floors and coil take. */
import { line } from "d3-shape";
import { computed } from "vue";
import { store } from "../../job/store";
import CheckField from "../../kit/CheckField.vue";
import ChartFrame from "../../kit/ChartFrame.vue";
import type { Tick } from "../../kit/charts";
import JobField from "../../kit/JobField.vue";
import type { Column } from "../../kit/table";
import type { CoolingDesign } from "../../api/client";
import { usual } from "../../job/usual";
import { show, type Quantity } from "../../units";
import { clockOf, dayOf, useCooling } from "./summer";

const { job, units, library } = store;
const s = (q: Quantity, v: number | null | undefined) => show(q, v, units.value);
const { answer: cool, trouble, old } = useCooling();
const wanted = computed(() => job.value?.cooling);
const hasFile = computed(() => Boolean(job.value?.site.weather?.file_id));
function begin() {
  const cooling = usual()?.cooling;
  if (cooling) store.edit("cool with the floors", (j) => (j.cooling = { ...cooling }));
}
const stop = () => store.edit("do not cool", (j) => void delete j.cooling);
const roomName = (id: string) => job.value?.rooms.find((r) => r.id === id)?.name ?? id;
const letter = (id: string) => job.value?.manifolds.find((m) => m.id === id)?.letter ?? id;
type Hour = CoolingDesign["week"][number];
const week = computed(() => cool.value?.week ?? []);
const span = computed(() => ({ from: (week.value[0]?.hour ?? 0) * 3600, to: ((week.value.at(-1)?.hour ?? 1) + 1) * 3600 }));
const days = computed<Tick[]>(() => week.value.filter((h) => h.hour % 24 === 12).map((h) => ({ value: h.hour * 3600, text: dayOf(h.hour) })));
const range = computed(() => {
  const all = week.value.flatMap((h) => [h.dew_point_c, h.supply_c, h.air_c]);
  return { from: Math.floor(Math.min(10, ...all)) - 1, to: Math.ceil(Math.max(20, ...all)) + 1 };
});
const most = computed(() => 1.1 * Math.max(1, ...week.value.map((h) => h.need_w)));
const at = (t: number): Hour | undefined => week.value[Math.min(week.value.length - 1, Math.max(0, Math.floor((t - span.value.from) / 3600)))];
const columns: Column<Hour>[] = [
  { key: "hour", head: "Hour", value: (h) => clockOf(h.hour) },
  { key: "air", head: "Outdoors", value: (h) => h.air_c, quantity: "temperature" },
  { key: "dew", head: "Dew point indoors", value: (h) => h.dew_point_c, quantity: "temperature" },
  { key: "supply", head: "Safe supply", value: (h) => h.supply_c, quantity: "temperature" },
  { key: "need", head: "Wanted", value: (h) => h.need_w, quantity: "heat" },
  { key: "floor", head: "Floors take", value: (h) => h.floor_w, quantity: "heat" },
];
const curve = (y: (v: number) => number, x: (v: number) => number, of: (h: Hour) => number) => line<Hour>().x((h) => x((h.hour + 0.5) * 3600)).y((h) => y(of(h)))(week.value) ?? "";
</script>

<template>
  <section class="cooling" aria-label="Cooling">
    <ElEmpty v-if="!wanted" :image-size="60" description="The floors heat only.">
      <p>In summer the same tubes can take heat out of the rooms, as far as the air's moisture allows.</p>
      <ElButton type="primary" :disabled="!job?.rooms.length || !library" @click="begin">Cool with the floors</ElButton>
    </ElEmpty>
    <template v-else>
      <div class="fields">
        <label>Rooms up to <JobField path="cooling.room_c" label="Rooms up to" /></label>
        <label>Over the dew point <JobField path="cooling.margin_k" label="Margin over the dew point" /></label>
        <label>Water warms by <JobField path="cooling.rise_k" label="Rise of the water" /></label>
        <label>Humidity indoors <JobField path="cooling.humidity" label="Humidity indoors" empty="by the weather" wide /></label>
        <label>A coil dries to <JobField path="cooling.coil_humidity" label="Humidity kept by a coil" empty="no coil" /></label>
        <label>Sun past the shades <JobField path="cooling.shades" label="Sun past the shades" /></label>
        <label>Moisture of a person, g/h <JobField path="cooling.person_g_h" label="Moisture of a person" /></label>
        <label>Chiller runs from <JobField path="cooling.chiller_least_w" label="Least output of the chiller" empty="none yet" /></label>
        <CheckField :model-value="wanted.follows ?? true" label="Supply follows the dew point" @update:model-value="store.edit('change the supply', (j) => (j.cooling!.follows = $event))">Supply follows the dew point</CheckField>
        <ElButton link type="primary" @click="stop">Do not cool</ElButton>
      </div>
      <p v-if="!hasFile">Gains and moisture come from a weather file: open one at Site.</p>
      <p v-else-if="trouble" role="alert">Cooling is not calculated: {{ trouble }}</p>
      <p v-else-if="!cool">Calculating…</p>
      <div v-else :class="{ old }">
        <p class="says">
          <b>No colder than {{ s("temperature", cool.supply_c) }}.</b> The dew point indoors comes to {{ s("temperature", cool.dew_point_c) }}<template v-if="cool.dew_hour !== null && cool.dew_hour !== undefined"> on {{ clockOf(cool.dew_hour) }}</template> while cold is wanted<template v-if="cool.first_at">; below that, manifold {{ letter(cool.first_at.manifold_id) }} in {{ roomName(cool.first_at.room_id) }} and its mains sweat first</template>.
        </p>
        <dl class="sums">
          <div><dt>wanted at the most</dt><dd>{{ s("heat", cool.peak_w) }}</dd></div>
          <div><dt>floors take of the year</dt><dd>{{ s("share", cool.floor_share) }} of {{ s("energy", cool.need_j) }}</dd></div>
          <div><dt>left to a coil at the most</dt><dd>{{ s("heat", cool.coil_w) }}<template v-if="cool.coil_moist_w > 1"> and {{ s("heat", cool.coil_moist_w) }} of moisture</template></dd></div>
          <div><dt>flow cooling</dt><dd>{{ s("flow", cool.flow_l_min) }}, {{ s("head", cool.head_pa) }} in the index loop</dd></div>
          <div v-if="cool.buffer_l !== null && cool.buffer_l !== undefined"><dt>buffer for runs of ten minutes</dt><dd>{{ s("content", cool.buffer_l) }}</dd></div>
        </dl>
        <div class="charts">
          <ChartFrame
            question="How cold may the water be?" :width="400" :height="210" :columns="columns" :rows="week" label="Dew point indoors and lowest safe supply in the most humid week"
            :x="{ quantity: 'time', ...span, ticks: days }" :y="{ quantity: 'temperature', ...range, name: 'temperature' }"
            :read="(t) => { const h = at(t); return h ? `${clockOf(h.hour)}: dew ${s('temperature', h.dew_point_c)}, water from ${s('temperature', h.supply_c)}` : ''; }">
            <template #default="{ x, y }">
              <path class="air" :d="curve(y, x, (h) => h.air_c)" />
              <path class="dew" :d="curve(y, x, (h) => h.dew_point_c)" />
              <path class="supply" :d="curve(y, x, (h) => h.supply_c)" />
            </template>
            <template #key><i class="k supply"></i> lowest safe supply <i class="k dew"></i> dew point indoors <i class="k air"></i> air outdoors</template>
          </ChartFrame>
          <ChartFrame
            question="Do the floors take it?" :width="400" :height="210" :columns="columns" :rows="week" label="Heat to be taken out and what the floors take in the most humid week"
            :x="{ quantity: 'time', ...span, ticks: days }" :y="{ quantity: 'heat', from: 0, to: most, name: 'heat' }"
            :read="(t) => { const h = at(t); return h ? `${clockOf(h.hour)}: ${s('heat', h.floor_w)} of ${s('heat', h.need_w)}` : ''; }">
            <template #default="{ x, y }">
              <path class="need" :d="curve(y, x, (h) => h.need_w)" />
              <path class="floor" :d="curve(y, x, (h) => h.floor_w)" />
            </template>
            <template #key><i class="k need"></i> wanted <i class="k floor"></i> floors take</template>
          </ChartFrame>
        </div>
        <p class="quiet">Hour by hour by the simple hourly method of ISO 13790: sun through glass by orientation, people and equipment, air from outside. {{ cool.sun_from_file ? "The file has the sun's radiation." : "The file has no radiation: the sun comes from the clouds (Kasten and Czeplak)." }}</p>
      </div>
    </template>
  </section>
</template>

<style scoped>
.cooling { height: 100%; overflow: auto; padding: 10px 14px; }
.fields { display: flex; flex-wrap: wrap; gap: 6px 18px; align-items: end; }
.fields label:not(.el-checkbox) { display: grid; gap: 2px; color: var(--soft); }
.says { margin: 10px 0 6px; }
.sums { display: flex; flex-wrap: wrap; gap: 4px 24px; margin: 0 0 8px; }
.sums dt { color: var(--soft); font-size: 13px; }
.sums dd { margin: 0; font-weight: 600; }
.charts { display: grid; grid-template-columns: repeat(auto-fit, minmax(300px, 1fr)); gap: 8px 20px; }
.quiet { color: var(--soft); font-size: 13px; }
.air { stroke: var(--soft); stroke-width: 1.2; fill: none; }
.dew { stroke: var(--ink); stroke-width: 1.6; stroke-dasharray: 5 3; fill: none; }
.supply, .need { stroke: var(--ember); stroke-width: 2; fill: none; }
.floor { stroke: var(--sound); stroke-width: 2; stroke-dasharray: 7 3; fill: none; }
.k { display: inline-block; width: 18px; height: 8px; }
.k.air { border-top: 1.5px solid var(--soft); }
.k.dew { border-top: 2px dashed var(--ink); }
.k.supply, .k.need { border-top: 2px solid var(--ember); }
.k.floor { border-top: 2px dashed var(--sound); }
</style>
