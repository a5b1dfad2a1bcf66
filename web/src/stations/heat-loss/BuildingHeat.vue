<script setup lang="ts">
/** The whole building: by cause, against the outdoor temperature, for the source, beside labels and rules of thumb. */
import { computed } from "vue";
import { RouterLink } from "vue-router";
import { CAUSE_TINTS, CAUSES } from "../../words";
import { store } from "../../job/store";
import { show } from "../../units";
import LoadLine from "./LoadLine.vue";

const { job, design, units, state } = store;
// none for a moment while the job is left for another page
const building = computed(() => design.value?.building);
const totals = computed(() => design.value?.totals);
const most = computed(() => Math.max(1, ...(building.value?.causes ?? []).map((c) => c.heat_w)));
</script>

<template>
  <div v-if="building && totals" class="building" tabindex="0" role="region" aria-label="Heat loss of the building">
    <section>
      <h3>Where does it go?</h3>
      <table>
        <tbody>
          <tr v-for="c in building.causes" :key="c.cause">
            <th scope="row">{{ CAUSES[c.cause] }}</th>
            <td><span class="bar" :style="{ width: `${Math.max(0, (c.heat_w / most) * 80)}px`, background: CAUSE_TINTS[c.cause] }"></span></td>
            <td class="num">{{ show("heat", c.heat_w, units) }}</td>
          </tr>
          <tr class="sum"><th scope="row">Heat loss</th><td></td><td class="num">{{ show("heat", building.heat_w, units) }}</td></tr>
          <tr><th scope="row">Down from heated floors</th><td></td><td class="num">{{ show("heat", totals.down_w, units) }}</td></tr>
          <tr class="sum"><th scope="row">For the source</th><td></td><td class="num">{{ show("heat", totals.source_w, units) }}</td></tr>
        </tbody>
      </table>
    </section>
    <LoadLine v-if="job" :building="building" :outdoor="job.site.outdoor_c" />
    <section>
      <h3>What would help most?</h3>
      <ul>
        <li v-for="s in building.savings.slice(0, 5)" :key="s.measure">{{ s.measure }}: saves {{ show("heat", s.heat_w, units) }}</li>
        <li v-if="!building.savings.length">Nothing of the ordinary measures.</li>
      </ul>
      <h3>Beside other figures</h3>
      <ul>
        <li v-if="totals.old_source_ratio">{{ job?.old_source?.name || "The old source" }}: its label says {{ show("share", totals.old_source_ratio, units) }} of what the source has to give.</li>
        <li v-else>The old source's label can be typed at <RouterLink :to="`/jobs/${state.id}/site`">Site</RouterLink>.</li>
        <li v-for="f in totals.flat_rates" :key="f.name">{{ f.name }}, {{ show("flux", f.w_m2, units) }}: {{ show("heat", f.heat_w, units) }}, {{ show("share", f.ratio, units) }} of the calculated loss.</li>
      </ul>
      <p><RouterLink :to="`/jobs/${state.id}/papers?sheet=heat-loss`">The heat loss report</RouterLink></p>
    </section>
  </div>
</template>

<style scoped>
.building { flex: 1; min-height: 0; overflow: auto; display: grid; grid-template-columns: max-content minmax(230px, 300px) minmax(200px, 1fr); gap: 8px 26px; padding: 4px 12px 10px; }
h3 { margin: 2px 0 4px; }
table { border-collapse: collapse; font-size: 13px; }
th { font-weight: 400; text-align: left; padding: 0 10px 0 0; white-space: nowrap; }
td.num { text-align: right; white-space: nowrap; }
.bar { display: inline-block; height: 10px; border: 1px solid var(--line); vertical-align: middle; }
.sum th, .sum td { font-weight: 650; border-top: 1px solid var(--line); }
ul { margin: 0 0 6px; padding-left: 16px; font-size: 13px; }
p { margin: 0; }
@media (max-width: 900px) { .building { grid-template-columns: minmax(0, 1fr); } }
</style>
