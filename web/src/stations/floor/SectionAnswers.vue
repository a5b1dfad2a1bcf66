<script setup lang="ts">
/** What a section answers: does it meet the load, at what supply temperature, how warm, how much down, how quick, how heavy and high. */
import { computed } from "vue";
import type { SectionPicture } from "../../api/client";
import * as floors from "../../job/floors";
import { store } from "../../job/store";
import { dialect, show } from "../../units";
import RemedyList from "./RemedyList.vue";

const props = defineProps<{ picture: SectionPicture; roomId: string; buildUpId: string | undefined; isFloor: boolean }>();
const { design, units, job } = store;
const s = (q: Parameters<typeof show>[0], v: number | null | undefined) => show(q, v, units.value);
const d = computed(() => design.value?.rooms.find((r) => r.id === props.roomId));
const outdoors = computed(() => Boolean(job.value?.outdoors));
const b = computed(() => floors.buildUp(props.buildUpId));
const carries = computed(() => (d.value?.supplement_w ?? 0) <= 0);
const p = computed(() => props.picture);
const downShare = computed(() => p.value.flux_down_w_m2 / Math.max(1e-9, p.value.flux_up_w_m2 + p.value.flux_down_w_m2));
const off = computed(() => (p.value.k_standard_w_m2k && p.value.k_reference_w_m2k ? p.value.k_standard_w_m2k / p.value.k_reference_w_m2k - 1 : null));
/** The share of that difference that comes of slow water: the standard's tables take it to be turbulent. */
const bySlowWater = computed(() => (off.value !== null && p.value.k_turbulent_w_m2k ? p.value.k_turbulent_w_m2k / p.value.k_reference_w_m2k! - 1 : 0));
const conflict = computed(() => (design.value?.conflict?.room_id === props.roomId ? design.value.conflict : null));
const remedies = computed(() => (conflict.value ? conflict.value.remedies : (d.value?.remedies ?? [])));
const roomName = (c: string) => job.value?.rooms.find((r) => r.id === c)?.name ?? c;
</script>

<template>
  <div class="answers" tabindex="0" role="region" aria-label="What the floor does">
    <p class="big" :class="{ no: !carries }">
      <template v-if="carries">✓ Meets the load</template>
      <template v-else>✗ Short by {{ s("heat", d?.supplement_w) }}</template>
    </p>
    <dl>
      <template v-if="isFloor">
        <dt>{{ outdoors ? "Storm takes" : "Room needs" }}</dt><dd :title="`Heat loss ${s('heat', d?.heat_loss_w)} over ${s('area', d?.heatable_area_m2)} of floor with tube`">{{ s("flux", d?.flux_needed_w_m2) }}</dd>
        <dt>Floor gives</dt><dd>{{ s("flux", d?.flux_given_w_m2) }}</dd>
        <template v-if="!outdoors"><dt>Maximum output</dt><dd :title="`At its surface limit of ${s('temperature', d?.surface_limit_c)}`">{{ s("flux", d?.flux_limit_w_m2) }}</dd></template>
        <dt>Supply needed</dt><dd title="Water at the manifold, at the ordinary drop">{{ s("temperature", d?.supply_needed_c) }}</dd>
        <dt>Maximum supply</dt><dd :title="dialect('The lowest of covering, build-up and fields', units)">{{ s("temperature", d?.supply_limit_c) }}</dd>
      </template>
      <dt>Gives here</dt><dd :title="`${s('transmittance', p.k_up_w_m2k)} of water over room; grid within ${(p.grid_error * 100).toFixed(2)} %`">{{ s("flux", p.flux_up_w_m2) }}</dd>
      <dt>Surface</dt><dd>{{ s("temperature", p.surface_mean_c) }}</dd>
      <dt>Tube, outside</dt><dd>{{ s("temperature", p.tube_c) }}</dd>
      <dt>{{ p.face === "floor" ? "Goes down" : "Lost at its back" }}</dt><dd :title="`Toward ${s('temperature', p.below_c)}; the source's loss, not the room's`">{{ s("flux", p.flux_down_w_m2) }}, {{ s("share", downShare) }}</dd>
      <dt>Delay</dt><dd title="Mean delay of the heat into the room after the water turns warm (Elmore); nine tenths after about twice that">{{ s("time", p.time_constant_s) }}</dd>
      <template v-if="isFloor && d?.floor">
        <dt>Height added</dt><dd>{{ s("size", d.floor.height_m) }}</dd>
        <dt>Weight added</dt><dd title="Without what is there already">{{ s("weight", d.floor.weight_kg_m2) }}</dd>
      </template>
      <template v-if="off !== null"><dt>By EN 1264-2</dt><dd :title="`The standard's tables: ${s('transmittance', p.k_standard_w_m2k)}; solved with the same film: ${s('transmittance', p.k_reference_w_m2k)}`">{{ Math.abs(off) < 0.005 ? "the same heat" : `${s("share", Math.abs(off))} ${off > 0 ? "more" : "less"} heat` }}<template v-if="bySlowWater > 0.02">; its tables take turbulent water, here slow water costs {{ s("share", bySlowWater) }}</template></dd></template>
    </dl>
    <template v-if="remedies.length">
      <p class="head">{{ conflict ? `Needs ${s("temperature", conflict.supply_c)}, all others ${s("temperature", conflict.others_c)}${conflict.harmed_room_ids.length ? `; too hot for ${conflict.harmed_room_ids.map(roomName).join(", ")}` : ""}.` : "What would meet the load:" }}</p>
      <RemedyList :room-id="roomId" :remedies="remedies" />
    </template>
    <template v-if="b">
      <p class="note"><b>{{ b.name }}.</b> {{ b.note }}</p>
      <p v-if="b.fastening" class="note"><b>Held:</b> {{ b.fastening }}</p>
      <p v-if="b.before" class="note"><b>Before:</b> {{ b.before }}</p>
      <p v-if="b.cautions" class="note"><b>Caution:</b> {{ b.cautions }}</p>
      <p class="note">Figures are design aids. Follow local code and the manufacturer's instructions.</p>
    </template>
  </div>
</template>

<style scoped>
.answers { overflow-y: auto; padding: 6px 10px; border-left: 1px solid var(--faint); min-height: 0; }
.big { font-size: 15px; font-weight: 650; margin: 0 0 4px; color: var(--sound); }
.big.no { color: var(--ember); }
dl { display: grid; grid-template-columns: auto 1fr; gap: 1px 8px; margin: 0; }
dt { color: var(--soft); }
dd { margin: 0; text-align: right; font-variant-numeric: tabular-nums; }
.head { font-weight: 600; margin: 8px 0 2px; }
.note { font-size: 12.5px; color: var(--soft); margin: 6px 0 0; }
</style>
