<script setup lang="ts">
/** The laying log on a desk and on a phone: loops by coil, one loop large, what is open before the pour, what was written down. */
import { computed, ref } from "vue";
import { useRoute, useRouter } from "vue-router";
import { store } from "../../job/store";
import { show } from "../../units";
import { useStationView } from "../view";
import BeforePour from "./BeforePour.vue";
import { useLog, type LoopRow } from "./log";
import PressureView from "./PressureView.vue";
import LoopOnSite from "./LoopOnSite.vue";
import SiteNotes from "./SiteNotes.vue";
import { LAY_STEPS } from "../../words";

const { job, units, design } = store;
const { log, failed } = useLog();
const { show: showView } = useStationView();
const route = useRoute();
const router = useRouter();

const chosen = computed(() => log.value?.loops.find((l) => l.tag === route.query.loop));
const choose = (tag?: string) => void router.push({ query: tag ? { ...route.query, loop: tag } : { ...route.query, loop: undefined } });
type Tab = "loops" | "test" | "pour" | "notes";
const tab = ref<Tab>("loops");
const tabs = computed<{ value: Tab; label: string }[]>(() => [
  { value: "loops", label: "Loops" },
  { value: "test", label: "Pressure test" },
  { value: "pour", label: `Before the pour${log.value?.open.length ? ` (${log.value.open.length})` : ""}` },
  { value: "notes", label: "Notes" },
]);
/** Coil by coil, as the crew unrolls them. */
const coils = computed(() => {
  const out: { name: string; loops: LoopRow[] }[] = [];
  for (const l of log.value?.loops ?? []) {
    const name = l.coil ?? "";
    if (out.at(-1)?.name !== name) out.push({ name, loops: [] });
    out.at(-1)!.loops.push(l);
  }
  return out;
});
const done = computed(() => (log.value?.loops ?? []).filter((l) => l.step !== "not_started").length);
const warnings = (l: LoopRow) => [l.wants_reason ? "took other than drawn" : "", l.drawn_then_m != null ? "design changed since" : "", l.differs ? "lies differently" : ""].filter(Boolean).join(", ");
</script>

<template>
  <section class="laying sun" aria-label="Laying">
    <LoopOnSite v-if="chosen && log && design" :key="chosen.loop_id" :loop="chosen" :log="log" @close="choose()" @next="choose" />
    <template v-else>
      <header class="bar">
        <ElSegmented v-model="tab" :options="tabs" aria-label="View of the laying log" />
        <p v-if="log" class="sum" role="status">{{ done }} of {{ log.loops.length }} loops lie, {{ show("tube", log.laid_m, units) }} of {{ show("tube", log.all_m, units) }}</p>
        <ElButton class="plan" @click="showView('plan')">Show on the plan</ElButton>
      </header>
      <ElAlert v-if="failed" type="error" :title="`The log does not come: ${failed}`" :closable="false" show-icon role="alert" />
      <ElSkeleton v-else-if="!log || !job" :rows="6" animated role="status" aria-label="Reading the log…" class="wait" />
      <ElEmpty v-else-if="!log.loops.length && tab === 'loops'" description="No loops are drawn yet: hang a manifold at Loops." />
      <div v-else-if="tab === 'loops'" class="scroll" tabindex="0" role="region" aria-label="Loops by coil">
        <ElButton class="labels" @click="router.push({ path: `/jobs/${store.state.id}/papers`, query: { sheet: 'labels' } })">Tube labels</ElButton>
        <section v-for="c in coils" :key="c.name" :aria-label="c.name || 'Without a coil'">
          <h2>{{ c.name ? `Coil ${c.name}` : "No coil is long enough" }}</h2>
          <ul>
            <li v-for="l in c.loops" :key="l.loop_id">
              <ElButton class="loop" :class="l.step" @click="choose(l.tag)">
                <b class="tag">{{ l.tag }}</b>
                <span class="where">{{ l.rooms.join(", ") }}</span>
                <span class="length">{{ show("tube", l.drawn_m, units) }}<template v-if="l.port_m != null"> from mark {{ show("tube", l.port_m, units) }}</template></span>
                <span class="step">{{ LAY_STEPS[l.step] }}<template v-if="l.waits">, not sent yet</template></span>
                <span v-if="warnings(l)" class="warning">{{ warnings(l) }}</span>
              </ElButton>
            </li>
          </ul>
        </section>
        <p v-if="log.gone.length" class="gone">There are records of loops that the design no longer has: {{ log.gone.join(", ") }}. They are kept; see Notes.</p>
      </div>
      <PressureView v-else-if="tab === 'test'" />
      <BeforePour v-else-if="tab === 'pour'" :log="log" @loop="choose" />
      <SiteNotes v-else :log="log" />
    </template>
  </section>
</template>

<style scoped>
.laying { display: flex; flex-direction: column; min-height: 0; min-width: 0; background: var(--sheet); overflow: hidden; }
.bar { display: flex; gap: 6px 14px; align-items: center; flex-wrap: wrap; padding: 8px 14px; border-bottom: 1px solid var(--faint); }
.sum { margin: 0; color: var(--soft); }
.plan { margin-left: auto; }
.labels { position: absolute; top: 2px; right: 14px; }
.wait { padding: 20px; }
.scroll { position: relative; overflow: auto; flex: 1; padding: 4px 14px 20px; }
h2 { font-size: 17px; margin: 14px 0 6px; }
ul { list-style: none; margin: 0; padding: 0; display: grid; grid-template-columns: repeat(auto-fill, minmax(280px, 1fr)); gap: 8px; }
.loop { width: 100%; height: auto; min-height: 60px; padding: 8px 12px; font-size: 16px; line-height: 1.35; background: var(--floor); border-left-width: 6px; }
.loop :deep(> span) { display: grid; grid-template: "tag where step" auto "tag length step" auto "tag warning warning" auto / 52px minmax(0, 1fr) auto; gap: 0 8px; width: 100%; text-align: left; color: var(--ink); font-weight: 400; }
.loop.on_floor { border-left-color: var(--warn); }
.loop.fixed { border-left-color: var(--sound); border-left-style: double; }
.loop.seen { border-left-color: var(--sound); }
.tag { grid-area: tag; font-size: 20px; align-self: center; }
.where { grid-area: where; overflow: hidden; text-overflow: ellipsis; white-space: nowrap; }
.length { grid-area: length; color: var(--soft); font-variant-numeric: tabular-nums; }
.step { grid-area: step; align-self: center; text-align: right; max-width: 110px; }
.warning { grid-area: warning; color: var(--ember); font-weight: 600; }
.gone { color: var(--soft); }
@media (max-width: 900px) { .laying { overflow: visible; } .scroll { overflow: visible; padding-top: 14px; } .bar { padding: 8px 10px; } .bar :deep(.el-segmented) { --el-segmented-padding: 4px; max-width: 100%; overflow-x: auto; } .bar :deep(.el-segmented__item) { padding: 0 7px; } .plan { margin-left: 0; } }
</style>
