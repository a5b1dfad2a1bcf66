<script setup lang="ts">
/** A visit: what is read of house, rooms, plant and loops on one side, what could be wrong on the other. */
import { computed, ref, watch } from "vue";
import type { Measurand, ReadingOf } from "../../api/client";
import { store } from "../../job/store";
import ReadInstruments from "../../instruments/ReadInstruments.vue";
import QuantityField from "../../kit/QuantityField.vue";
import { show } from "../../units";
import Causes from "./Causes.vue";
import { grouped, keyOf, SHOWN, useVisit } from "./visit";
import VisitForm from "./VisitForm.vue";
import Visits from "./Visits.vue";

const { units, job, design } = store;
const visit = useVisit();
const { read, ranking, failed, busy } = visit;
const writing = ref(false);
const open = ref<string[]>(["House", "Rooms", "Plant and manifolds", "Loops"]);
const groups = computed(() => grouped(ranking.value?.expected ?? []));
/** What carries no water has nothing to be read. */
const runs = computed(() => design.value?.loops.some((l) => l.flow_l_min > 0));
// another job, or the same one changed by somebody, or other units: a sound house then shows other figures
watch(design, () => runs.value && void visit.rank(), { immediate: true });

const factor = (q: Measurand) => SHOWN[q].factor ?? 1;
const valueOf = (q: Measurand, subject: string) => {
  const v = read.value.get(keyOf(q, subject))?.value;
  return v === undefined ? undefined : v * factor(q);
};
const should = (q: Measurand, value: number | null | undefined) =>
  q === "outdoor_c" ? `taken as ${show("temperature", ranking.value!.outdoor_c, units.value)}` : value == null ? "not read" : `should be ${show(SHOWN[q].quantity!, value * factor(q), units.value)}`;
const put = (q: Measurand, subject: string, value: number | undefined) => visit.put(q, subject, value === undefined ? undefined : value / factor(q));
const answerOf = (q: Measurand, subject: string) => {
  const v = read.value.get(keyOf(q, subject))?.value;
  return v === undefined ? "" : v > 0.5 ? "yes" : "no";
};
const answers = (q: Measurand) => [
  { value: "yes", label: SHOWN[q].yes![0] },
  { value: "no", label: SHOWN[q].yes![1] },
  { value: "", label: "not looked" },
];
const count = computed(() => read.value.size);
const label = (q: Measurand, name: string) => (name ? `${name}: ${SHOWN[q].name.toLowerCase()}` : SHOWN[q].name);
function written() {
  writing.value = false;
  visit.clear();
}
const all = (): ReadingOf[] => visit.readings();
</script>

<template>
  <section class="service sun" aria-label="Service">
    <ElAlert v-if="failed" type="warning" :title="failed" :closable="false" show-icon role="alert" />
    <ElEmpty v-if="runs === false" description="No loop carries water yet: hang a manifold at Loops." />
    <ElSkeleton v-else-if="!ranking && !failed" role="status" :rows="8" animated aria-label="Running the design with every fault…" class="wait" />
    <div v-if="runs && ranking && job" class="two">
      <div class="readings" tabindex="0" role="region" aria-label="Readings">
        <div class="head">
<p>Turn all thermostats up, wait ten minutes, then read what there is to read: nothing is required, every figure helps.</p>
          <ElButton v-if="count" link type="primary" class="clear" @click="visit.clear()">Clear all {{ count }}</ElButton>
</div>
        <ReadInstruments :ask="{ outdoor_c: read.get(keyOf('outdoor_c', ''))?.value }" label="Read all of it" :fields="all()" @read="(figures, simulated) => visit.putAll(figures, simulated)" />
        <ElCollapse v-model="open">
          <ElCollapseItem v-for="g in groups" :key="g.name" :name="g.name" :title="g.name">
            <fieldset v-for="r in g.rows" :key="r.subject" :aria-label="r.name || g.name">
              <b v-if="r.name">{{ r.name }}</b>
              <div v-for="f in r.fields" :key="f.quantity" class="field" :class="{ given: read.has(keyOf(f.quantity, r.subject)) }">
                <span>{{ SHOWN[f.quantity].name }}</span>
                <ElSegmented v-if="SHOWN[f.quantity].yes" size="small" :model-value="answerOf(f.quantity, r.subject)" :options="answers(f.quantity)" :aria-label="label(f.quantity, r.name)" @change="visit.put(f.quantity, r.subject, $event === '' ? undefined : $event === 'yes' ? 1 : 0)" />
                <QuantityField v-else :model-value="valueOf(f.quantity, r.subject)" :label="label(f.quantity, r.name)" :quantity="SHOWN[f.quantity].quantity" :min="SHOWN[f.quantity].least" :max="SHOWN[f.quantity].most" :empty="should(f.quantity, f.value)" wide @update:model-value="put(f.quantity, r.subject, $event)" />
              </div>
            </fieldset>
          </ElCollapseItem>
        </ElCollapse>
      </div>
      <div class="answer" tabindex="0" role="region" aria-label="Causes" :aria-busy="busy">
        <Causes :class="{ old: busy || failed }" :ranking="ranking" :count="count" :busy="busy" />
        <ElButton size="large" type="primary" :disabled="!count" @click="writing = true">Write the visit down</ElButton>
        <Visits />
        <p class="care">Gas, oil, refrigerant and mains voltage belong to licensed trades. Smell of gas: leave, shut off outside, call.</p>
      </div>
    </div>
    <VisitForm v-if="writing && ranking" :readings="all()" :ranking="ranking" :simulated="visit.simulated.value" @close="writing = false" @written="written" />
  </section>
</template>

<style scoped>
.service { display: flex; flex-direction: column; min-height: 0; min-width: 0; background: var(--sheet); overflow: hidden; font-size: 16px; }
.wait { padding: 20px; }
.two { display: grid; grid-template-columns: minmax(340px, 1fr) minmax(340px, 1.15fr); min-height: 0; flex: 1; }
.readings, .answer { overflow: auto; padding: 8px 14px 20px; min-width: 0; }
.answer { border-left: 1px solid var(--faint); }
.head { display: flex; gap: 10px; align-items: start; }
.clear { flex: none; }
.head p { margin: 4px 0 8px; color: var(--soft); }
fieldset { border: 0; border-top: 1px solid var(--faint); padding: 6px 0; margin: 0; min-width: 0; }
.field { display: grid; grid-template-columns: minmax(110px, 0.8fr) minmax(0, 1.2fr); gap: 8px; align-items: center; min-height: 48px; }
.field :deep(.quantity), .field :deep(.el-input) { width: 100%; }
.field :deep(.el-input) { --el-input-height: 44px; font-size: 16px; }
.field.given > span { font-weight: 650; }
.readings :deep(.el-collapse-item__header) { font-size: 17px; font-weight: 650; background: none; }
.readings :deep(.el-collapse-item__wrap) { background: none; }
.readings :deep(.el-collapse-item__content) { font-size: 16px; padding-bottom: 8px; color: var(--ink); }
.readings :deep(.el-segmented__item) { padding: 0 8px; }
.answer :deep(.el-button--large) { min-height: 52px; font-size: 17px; margin: 10px 0; }
.care { color: var(--soft); }
@media (max-width: 900px) { .service, .readings, .answer { overflow: visible; } .two { grid-template-columns: 1fr; } .answer { order: -1; border-left: 0; border-bottom: 2px solid var(--line); } }
</style>
