<script setup lang="ts">
/** One loop as large as the screen: its turns one after the other, how far it is, what happened to it. For one thumb. */
import { ArrowLeft, ArrowRight, Back } from "@element-plus/icons-vue";
import { useEventListener, useLocalStorage } from "@vueuse/core";
import { computed, ref } from "vue";
import type { LayStep } from "../../api/client";
import { store } from "../../job/store";
import { show } from "../../units";
import HarmForm from "./HarmForm.vue";
import LayForm from "./LayForm.vue";
import type { Log, LoopRow } from "./log";
import LoopMap from "./LoopMap.vue";
import { HARMS, LAY_STEPS, MENDS } from "../../words";
import { when } from "./words";

const props = defineProps<{ loop: LoopRow; log: Log }>();
const emit = defineEmits<{ close: []; next: [tag: string] }>();
const { units, design, job, state } = store;

const drawn = computed(() => design.value?.loops.find((l) => l.id === props.loop.loop_id));
const steps = computed(() => drawn.value?.steps ?? []);
/** Where the crew is in it: a phone that was locked, or ran out of power, comes back to the same turn. */
const at = useLocalStorage(`fuoco-turn-${state.id}-${props.loop.loop_id}`, 0);
const step = computed(() => steps.value[Math.min(at.value, steps.value.length - 1)]);
const first = computed(() => at.value <= 0);
const last = computed(() => at.value >= steps.value.length - 1);
const go = (by: number) => (at.value = Math.min(Math.max(at.value + by, 0), steps.value.length - 1));
useEventListener(window, "keydown", (e) => {
  if (e.target instanceof HTMLElement && /^(INPUT|TEXTAREA|SELECT)$/.test(e.target.tagName)) return;
  if (document.querySelector(".el-overlay:not([style*='display: none'])")) return;
  if (e.key === "ArrowRight") go(1);
  else if (e.key === "ArrowLeft") go(-1);
  else if (e.key === "Escape") emit("close");
});

const run = computed(() => (units.value === "us" ? "length" : "tube") as "length" | "tube");
const length = (m: number) => show(run.value, m, units.value);
/** What is counted along a run: squares, studs or joists of the floor. */
const counted = computed(() => {
  const kinds = new Set(drawn.value?.room_ids.map((id) => job.value?.rooms.find((r) => r.id === id)?.floor?.lattice?.kind));
  return kinds.has("joists") ? "joists" : kinds.has("squares") ? "squares" : null;
});
/** The mark at the supply port, read or planned, and which way the marks count. */
const port = computed(() => props.loop.start_m ?? props.loop.port_m);
const down = computed(() => props.loop.start_m != null && props.loop.end_m != null && props.loop.end_m < props.loop.start_m);
const mark = computed(() => (port.value != null && step.value ? port.value + (down.value ? -1 : 1) * step.value.along_m : null));
const then = computed(() => {
  if (!step.value) return "";
  if (last.value) return "into the return port";
  const deg = step.value.turn_deg;
  return Math.abs(deg) < 20 ? "then shift over" : `then ${Math.round(Math.abs(deg))}° ${deg > 0 ? "left" : "right"}`;
});
const harms = computed(() => props.log.harms.filter((h) => h.harm.loop_id === props.loop.loop_id));
const after = computed(() => {
  const i = props.log.loops.findIndex((l) => l.loop_id === props.loop.loop_id);
  return props.log.loops.slice(i + 1).find((l) => l.step === "not_started") ?? props.log.loops.find((l) => l.step === "not_started" && l !== props.loop);
});

const laying = ref<LayStep | null>(null);
const harming = ref(false);
const differing = ref(false);
/** The step that comes next in the order of the work. */
const NEXT: Partial<Record<LayStep, { step: LayStep; label: string }>> = {
  not_started: { step: "on_floor", label: "It lies" },
  on_floor: { step: "fixed", label: "It is fixed" },
  fixed: { step: "seen", label: "I have looked at it" },
};
</script>

<template>
  <article class="loop" :aria-label="`Loop ${loop.tag}`">
    <header>
      <ElButton :icon="Back" size="large" aria-label="All loops" @click="emit('close')" />
      <div class="head">
        <h2>Loop {{ loop.tag }}</h2>
        <p>{{ loop.rooms.join(", ") }} · {{ show("tube", loop.drawn_m, units) }}<template v-if="loop.coil"> · coil {{ loop.coil }}</template></p>
      </div>
      <span class="state" :class="loop.step">{{ LAY_STEPS[loop.step] }}<template v-if="loop.waits"><br /><small>not sent yet</small></template></span>
    </header>
    <ElAlert v-if="loop.drawn_then_m != null" type="warning" :closable="false" show-icon :title="`Laid when the design had ${show('tube', loop.drawn_then_m, units)}; it has ${show('tube', loop.drawn_m, units)} now.`" />
    <ElAlert v-if="loop.wants_reason" type="warning" :closable="false" show-icon title="It took other than its drawn length: say why." />

    <section v-if="step && drawn" class="steps" aria-label="Turn by turn">
      <LoopMap :loop="drawn" :along="step.along_m" :from="step.along_m - step.length_m" />
      <div class="turn" aria-live="polite">
        <p class="count">{{ last ? "Last run" : `Run ${at + 1}` }} of {{ steps.length }}</p>
        <p class="run"><span class="arrow" :style="{ rotate: `${step.heading_deg}deg` }" aria-hidden="true">↑</span> {{ length(step.length_m) }}<small v-if="counted && step.passes != null"> · {{ step.passes }} {{ counted }}</small></p>
        <p class="then">{{ then }}</p>
        <p v-if="mark != null" class="mark">at mark <b>{{ show("tube", mark, units) }}</b></p>
      </div>
      <nav class="thumb" aria-label="Turns">
        <ElButton size="large" :icon="ArrowLeft" :disabled="first" @click="go(-1)">Back</ElButton>
        <ElButton size="large" type="primary" :disabled="last" @click="go(1)">Next <ElIcon class="el-icon--right"><ArrowRight /></ElIcon></ElButton>
      </nav>
    </section>

    <section class="did" aria-label="How far it is">
      <ElButton v-if="NEXT[loop.step]" size="large" type="primary" plain @click="laying = NEXT[loop.step]!.step">{{ NEXT[loop.step]!.label }}</ElButton>
      <ElButton v-if="loop.step !== 'not_started'" size="large" @click="laying = loop.step">Marks</ElButton>
      <ElButton size="large" @click="harming = true">Kink or cut</ElButton>
      <ElButton size="large" @click="differing = true">Laid differently</ElButton>
      <ElButton v-if="loop.step !== 'not_started'" size="large" text @click="laying = 'not_started'">Taken up again</ElButton>
    </section>
    <dl v-if="loop.step !== 'not_started'" class="facts">
      <template v-if="loop.used_m != null"><dt>Tube used</dt><dd>{{ show("tube", loop.used_m, units) }}, drawn {{ show("tube", loop.drawn_then_m ?? loop.drawn_m, units) }}</dd></template>
      <template v-if="loop.reason"><dt>Reason</dt><dd>{{ loop.reason }}</dd></template>
      <template v-if="loop.at"><dt>Last word</dt><dd>{{ when(loop.at) }}<template v-if="loop.who">, {{ loop.who }}</template></dd></template>
    </dl>
    <ul v-if="harms.length" class="harms" aria-label="What happened to it">
      <li v-for="h in harms" :key="h.record_id"><b>{{ HARMS[h.harm.harm] }}</b><template v-if="h.harm.mark_m != null"> at mark {{ show("tube", h.harm.mark_m, units) }}</template>: {{ MENDS[h.harm.mend] }}<template v-if="h.note">. {{ h.note }}</template></li>
    </ul>
    <ElButton v-if="loop.step !== 'not_started' && after" class="onward" size="large" @click="emit('next', after.tag)">On to loop {{ after.tag }}</ElButton>

    <LayForm v-if="laying" :loop="loop" :step="laying" @close="laying = null" />
    <HarmForm v-if="harming || differing" :loop="loop" :differs="differing" @close="harming = differing = false" />
  </article>
</template>

<style scoped>
.loop { display: flex; flex-direction: column; gap: 10px; padding: 10px 14px 20px; overflow: auto; min-height: 0; font-size: 17px; max-width: 760px; width: 100%; margin: 0 auto; }
header { display: flex; gap: 12px; align-items: center; }
.head { flex: 1; min-width: 0; }
h2 { font-size: 22px; margin: 0; }
.head p { margin: 0; color: var(--ink); }
.state { text-align: right; font-weight: 600; }
.state.fixed, .state.seen { color: var(--sound); }
.loop :deep(.el-button--large) { min-height: 52px; font-size: 17px; min-width: 52px; }
.steps { display: grid; gap: 8px; }
.turn { text-align: center; }
.turn p { margin: 0; }
.count { font-size: 16px; }
.run { font-size: 44px; font-weight: 700; line-height: 1.1; font-variant-numeric: tabular-nums; }
.run small { font-size: 24px; }
.arrow { display: inline-block; }
.then { font-size: 24px; }
.mark { font-size: 18px; }
.thumb { display: grid; grid-template-columns: 1fr 1.6fr; gap: 10px; }
.thumb :deep(.el-button) { margin: 0; min-height: 68px; font-size: 20px; }
/* a finger leaves no hover: full contrast in the sun */
.thumb :deep(.el-button--primary) { --el-button-hover-bg-color: var(--ember); --el-button-hover-border-color: var(--ember); }
.did { display: flex; flex-wrap: wrap; gap: 8px; }
.did :deep(.el-button) { margin: 0; flex: 1 1 150px; }
.facts { display: grid; grid-template-columns: auto 1fr; gap: 2px 14px; margin: 0; }
dt { color: var(--soft); }
dd { margin: 0; }
.harms { margin: 0; padding-left: 20px; }
</style>
