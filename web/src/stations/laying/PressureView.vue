<script setup lang="ts">
/** Pressure tests: begun, read, judged, signed. */
import { computed, ref } from "vue";
import { store } from "../../job/store";
import { show } from "../../units";
import BeginTest from "./BeginTest.vue";
import ReadGauge from "./ReadGauge.vue";
import SignTest from "./SignTest.vue";
import TestChart from "./TestChart.vue";
import { useTests, type TestRow } from "./tests";
import { DURING, MEDIA, SIGNED_AS, VERDICTS } from "../../words";
import { when } from "./words";

const { tests, contents, failed } = useTests();
const { units } = store;
const beginning = ref(false);
const reading = ref<TestRow | null>(null);
const signing = ref<TestRow | null>(null);
/** The one begun last first. */
const shown = computed(() => [...(tests.value ?? [])].reverse());
const kpa = (v: number) => show("gauge", v * 1000, units.value);
/** Small volumes are what one catches in a cup. */
const leak = (ml: number) => (ml >= 1000 ? `${(ml / 1000).toFixed(1)} L/h` : `${ml >= 10 ? Math.round(ml) : ml.toFixed(1)} mL/h`);
const stroke = (points: number[][]) => points.map((p) => p.join(",")).join(" ");
</script>

<template>
  <div class="tests" tabindex="0" role="region" aria-label="Pressure tests">
    <div class="bar"><ElButton size="large" :type="shown.length ? 'default' : 'primary'" @click="beginning = true">Begin a test</ElButton><p>Pressure, medium and duration: follow local code and the manufacturer's instructions.</p></div>
    <ElAlert v-if="failed" type="error" :title="failed" :closable="false" show-icon role="alert" />
    <ElSkeleton v-else-if="!tests" :rows="4" animated role="status" aria-label="Reading the tests…" />
    <p v-else-if="!shown.length" class="none">No pressure test has begun yet. Begin one when all loops are connected, and keep it up while the floor is poured.</p>
    <article v-for="t in shown" :key="t.id" :aria-label="t.begun.name">
      <ElAlert v-if="t.sudden != null" type="error" :closable="false" show-icon role="alert" title="The pressure fell at once: look now." description="Stop the pour. Find the loop: shut the ports one by one, and watch which one the gauge still falls with. Wash concrete off before it sets." />
      <header>
        <h2>{{ t.begun.name }}</h2>
        <b v-if="t.result" class="verdict" :class="t.result.verdict">{{ VERDICTS[t.result.verdict] }}</b>
        <span v-if="t.waits" class="waits">{{ t.waits }} not sent yet: judged when {{ t.waits === 1 ? "it is" : "they are" }}</span>
      </header>
      <p class="facts">With {{ MEDIA[t.begun.test.medium] }}, {{ show("content", t.begun.test.volume_l, units) }}, {{ show("pressure", t.begun.test.required.pressure_kpa * 1000, units) }} for {{ t.begun.test.required.hours }} h, begun {{ when(t.at) }}</p>
      <p v-if="t.result" class="reason">{{ t.result.reason }}</p>
      <p v-for="d in t.result?.doubts ?? []" :key="d" class="trouble" role="alert">{{ d }}</p>
      <p v-if="t.trouble" class="trouble" role="alert">These readings do not go together: {{ t.trouble }}</p>
      <ul v-if="t.result?.to_prove?.length" class="prove"><li v-for="p in t.result.to_prove" :key="p">{{ p }}</li></ul>
      <dl v-if="t.result && t.readings.length > 1">
        <dt>Corrected drop</dt><dd>{{ kpa(t.result.drop_kpa) }}, ± {{ kpa(t.result.uncertainty_kpa) }}</dd>
        <dt>Least leak it would have shown</dt><dd>{{ leak(t.result.least_leak) }} of {{ MEDIA[t.begun.test.medium] }}</dd>
        <template v-if="t.result.verdict === 'leaking'"><dt>Leak</dt><dd><b>{{ leak(t.result.leak_rate) }} of {{ MEDIA[t.begun.test.medium] }}</b></dd></template>
        <dt>Required pressure stood</dt><dd>{{ t.result.hours.toFixed(1) }} h</dd>
      </dl>
      <TestChart v-if="t.readings.length > 1" :test="t" />
      <div class="do"><ElButton size="large" type="primary" @click="reading = t">Read the gauge</ElButton><ElButton size="large" :disabled="!t.readings.length" @click="signing = t">Sign</ElButton></div>
      <table v-if="t.readings.length" class="grid-table">
        <thead><tr><th>When</th><th class="num">Gauge</th><th class="num">Corrected</th><th class="num">Air</th><th class="num">Slab</th><th></th></tr></thead>
        <tbody>
          <tr v-for="(r, i) in t.readings" :key="r.record_id" :class="{ sudden: t.sudden === i }">
            <td>{{ when(r.at) }}</td><td class="num">{{ kpa(r.read.gauge_kpa) }}</td><td class="num">{{ t.result?.corrected[i] != null ? kpa(t.result.corrected[i]!) : "" }}</td>
            <td class="num">{{ r.read.air_c != null ? show("temperature", r.read.air_c, units) : "" }}</td><td class="num">{{ r.read.slab_c != null ? show("temperature", r.read.slab_c, units) : "" }}</td><td>{{ r.read.during && r.read.during !== "before" ? DURING[r.read.during] : "" }}</td>
          </tr>
        </tbody>
      </table>
      <p v-for="s in t.signed" :key="s.at" class="signed"><svg viewBox="0 0 3 1" role="img" :aria-label="`Signature of ${s.signed.name}`"><polyline v-for="(line, k) in s.signed.strokes" :key="k" :points="stroke(line)" /></svg> <span><b>{{ s.signed.name }}</b>, {{ SIGNED_AS[s.signed.part] }}, {{ when(s.at) }}<template v-if="s.before_last">; readings have been added since</template></span></p>
      <p v-for="c in t.result?.cautions ?? []" :key="c" class="caution">{{ c }}</p>
    </article>
    <BeginTest v-if="beginning" :contents="contents" @close="beginning = false" />
    <ReadGauge v-if="reading" :test="reading" @close="reading = null" />
    <SignTest v-if="signing" :test="signing" @close="signing = null" />
  </div>
</template>

<style scoped>
.tests { overflow: auto; flex: 1; padding: 10px 14px 20px; font-size: 16px; max-width: 820px; }
.bar { display: flex; gap: 12px; align-items: center; flex-wrap: wrap; }
.bar p, .none, .facts { color: var(--soft); margin: 0; }
.tests :deep(.el-button--large) { min-height: 52px; font-size: 17px; }
article { border-top: 1px solid var(--line); margin-top: 14px; padding-top: 10px; display: grid; gap: 6px; }
header { display: flex; gap: 12px; align-items: baseline; flex-wrap: wrap; }
h2 { font-size: 19px; margin: 0; }
.verdict { padding: 1px 10px; border-radius: 3px; border: 1.5px solid; }
.verdict.tight { color: var(--sound); }
.verdict.not_proven { color: var(--warn); }
.verdict.leaking { color: var(--on-ember); background: var(--ember); border-color: var(--ember); }
.waits { color: var(--warn); font-weight: 600; }
.reason { margin: 0; }
.trouble { color: var(--ember); margin: 0; }
.prove { margin: 0; padding-left: 20px; }
.prove::before { content: "What would prove it:"; color: var(--soft); margin-left: -20px; }
dl { display: grid; grid-template-columns: auto 1fr; gap: 2px 14px; margin: 0; }
dt { color: var(--soft); }
dd { margin: 0; font-variant-numeric: tabular-nums; }
.do { display: grid; grid-template-columns: 1.6fr 1fr; gap: 10px; max-width: 460px; }
.do :deep(.el-button) { margin: 0; }
.grid-table { font-size: 16px; }
tr.sudden td { color: var(--ember); font-weight: 650; }
.signed { margin: 0; display: flex; gap: 8px; align-items: center; flex-wrap: wrap; }
.signed svg { width: 120px; height: 40px; border-bottom: 1px solid var(--ink); }
.signed polyline { fill: none; stroke: var(--ink); stroke-width: 0.02; }
.caution { margin: 0; color: var(--warn); }
</style>
