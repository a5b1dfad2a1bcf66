<script setup lang="ts">
/** Does the source fit? Its size, its lowest output, its flow, the vessel: each figure with how it came about. */
import { computed } from "vue";
import { store } from "../../job/store";
import { show, type Quantity } from "../../units";

const { job, design, units } = store;
const of = computed(() => design.value?.plant);
const s = (q: Quantity, v: number | null | undefined) => show(q, v, units.value);
const roomName = (id: string | null | undefined) => job.value?.rooms.find((r) => r.id === id)?.name ?? "";
const minutes = (seconds: number) => (seconds < 90 ? `${Math.round(seconds)} s` : seconds < 7200 ? `${Math.round(seconds / 60)} min` : s("time", seconds));
</script>

<template>
  <div v-if="of" class="fit">
    <section aria-label="Output">
      <h3>Output</h3>
      <dl>
        <dt>Building with downward losses</dt><dd>{{ s("heat", of.size.building_w) }}</dd>
        <dt v-if="of.size.users_w">Users beside rooms</dt><dd v-if="of.size.users_w">{{ s("heat", of.size.users_w) }}</dd>
        <dt v-if="of.size.tank_w">Hot water, by priority</dt><dd v-if="of.size.tank_w">{{ s("heat", of.size.tank_w) }}, not added</dd>
        <dt>Has to give</dt><dd><b>{{ s("heat", of.size.needs_w) }}</b></dd>
        <dt>Can give</dt><dd><b>{{ s("heat", of.size.most_w) }}</b>, {{ s("share", of.size.ratio) }} of it</dd>
        <dt v-if="of.size.emitters_w">All emitters at its hottest</dt><dd v-if="of.size.emitters_w">{{ s("heat", of.size.emitters_w) }}</dd>
        <template v-if="design?.totals.old_source_ratio"><dt>{{ job?.old_source?.name || "Existing source" }}, by its plate</dt><dd>{{ s("heat", job?.old_source?.output_w ?? job?.old_source?.input_w) }}, {{ s("share", design.totals.old_source_ratio) }} of what is needed</dd></template>
        <template v-for="r in design?.totals.flat_rates" :key="r.name"><dt>{{ r.name }}</dt><dd>{{ s("heat", r.heat_w) }}</dd></template>
        <dt v-if="of.size.tank_s">Tank from cold</dt><dd v-if="of.size.tank_s">{{ minutes(of.size.tank_s) }}</dd>
      </dl>
      <p class="how">A plate names the input (fuel burnt), the output (heat into the water), and sometimes a net rating, about 15 % less, for piping that is lost heat only in an unheated cellar. The load decides, not the old plate.</p>
    </section>
    <section aria-label="Lowest output">
      <h3>Lowest output</h3>
      <dl>
        <dt>It runs on down to</dt><dd>{{ s("heat", of.size.least_w) }}</dd>
        <dt>Smallest room, mild weather</dt><dd>{{ s("heat", of.size.smallest_w) }} {{ roomName(of.size.smallest_room_id) }}</dd>
        <dt>Water warmed with it</dt><dd>{{ s("content", of.size.warmed_l) }}</dd>
        <template v-if="of.size.cycles">
          <dt>On for</dt><dd>{{ minutes(of.size.cycles.on_s) }}, off for {{ minutes(of.size.cycles.off_s) }}</dd>
          <dt>Goes on</dt><dd><b>{{ of.size.cycles.per_h.toFixed(1) }}</b> times an hour</dd>
          <dt>Buffer for ten minutes</dt><dd>{{ of.size.buffer_l ? s("content", of.size.buffer_l) : "none needed" }}</dd>
        </template>
        <dt v-else>Cycles</dt><dd v-if="!of.size.cycles">none: it runs on</dd>
      </dl>
      <p class="how">On: content × heat of water × differential ÷ (lowest output − load); off: the same ÷ load.</p>
      <h3>Flow</h3>
      <dl>
        <dt>At its rated output it needs</dt><dd>{{ s("flow", of.size.needs_flow_l_min) }}</dd>
        <dt>Its pump pushes through</dt><dd><b>{{ s("flow", of.size.has_flow_l_min) }}</b></dd>
      </dl>
      <p class="how">Rated output ÷ heat of water at its largest rise, against where the pump's curve meets its waterways and piping.</p>
    </section>
    <section aria-label="Expansion vessel">
      <h3>Expansion vessel</h3>
      <dl>
        <dt>Water in all</dt><dd>{{ s("content", of.vessel.content_l) }}, {{ s("content", of.vessel.tubes_l) }} in tubes</dd>
        <dt>It grows by</dt><dd>{{ s("content", of.vessel.expands_l) }}</dd>
        <dt>Height over the vessel</dt><dd>{{ s("length", of.vessel.static_m) }}</dd>
        <dt>Filled cold to</dt><dd><b>{{ s("pressure", of.vessel.fill_pa) }}</b></dd>
        <dt>Hottest up to</dt><dd>{{ s("pressure", of.vessel.end_pa) }}</dd>
        <dt>Takes water up to</dt><dd>{{ s("share", of.vessel.acceptance) }} of its volume</dd>
        <dt>Vessel</dt><dd><b>{{ of.vessel.least_l ? `${s("content", of.vessel.least_l)} at least` : "none fits" }}</b><template v-if="of.vessel.chosen_l">, as sold {{ s("content", of.vessel.chosen_l) }}</template></dd>
      </dl>
      <p class="how">Filled to the height of the water and 0.3 bar (4 psi) at the top; half a bar (7 psi) below the relief valve when hottest; reserve half a per cent of the content, 3 L (0.8 gal) at least. Hang it before the pump.</p>
    </section>
  </div>
</template>

<style scoped>
.fit { display: grid; grid-template-columns: repeat(auto-fit, minmax(250px, 1fr)); gap: 6px 26px; padding: 8px 14px; align-content: start; }
h3 { margin: 4px 0; }
dl { display: grid; grid-template-columns: minmax(0, 1fr) minmax(0, 1fr); gap: 3px 10px; margin: 0 0 4px; }
dt { color: var(--soft); }
dd { margin: 0; }
.how { color: var(--soft); font-size: 12.5px; margin: 2px 0 8px; }
</style>
