<script setup lang="ts">
/** The start-up: its steps, the purging of every loop, the flows in their order, the heat-up day by day. */
import { computed, ref } from "vue";
import { store } from "../../job/store";
import { outbox } from "../../offline/waiting";
import { dialect, show } from "../../units";
import { notKept, when } from "../laying/words";
import FillForm from "./FillForm.vue";
import FlowSetting from "./FlowSetting.vue";
import HeatUp from "./HeatUp.vue";
import { useStart } from "./start";

const { units } = store;
const { start, failed } = useStart();
type Tab = "steps" | "purge" | "flows" | "heat";
const tab = ref<Tab>("steps");
const TABS: { value: Tab; label: string }[] = [
  { value: "steps", label: "Steps" },
  { value: "purge", label: "Purge" },
  { value: "flows", label: "Flows" },
  { value: "heat", label: "Heat-up" },
];
const wrong = ref("");
const filling = ref(false);
const done = computed(() => start.value?.steps.filter((s) => s.done).length ?? 0);
/** Which view a step leads to. */
const LEADS: Record<string, Tab> = { "startup/purge": "purge", "startup/flows": "flows", "startup/heat_up": "heat" };
const minutes = (s: number) => show("minutes", s, units.value);

async function tick(item: string, so: boolean) {
  wrong.value = "";
  try {
    await outbox.add(store.state.id, { fact: { kind: "ticked", item, done: so } });
  } catch (e) {
    wrong.value = notKept(e);
  }
}
</script>

<template>
  <section class="start-up sun" aria-label="Start-up">
    <header class="bar">
      <ElSegmented v-model="tab" :options="TABS" aria-label="View of the start-up" />
      <p v-if="start" class="sum" role="status">{{ done }} of {{ start.steps.length }} steps done</p>
    </header>
    <ElAlert v-if="failed" type="error" :title="`The start-up does not come: ${failed}`" :closable="false" show-icon role="alert" />
    <ElSkeleton v-else-if="!start" role="status" :rows="6" animated aria-label="Working out the start-up…" class="wait" />
    <ElEmpty v-else-if="!start.manifolds.length" description="No loop carries water yet: hang a manifold at Loops." />
    <div v-else-if="tab === 'steps'" class="scroll" tabindex="0" role="region" aria-label="Steps of the start-up">
      <ElAlert v-if="wrong" type="error" :title="wrong" :closable="false" show-icon role="alert" />
      <ol class="steps">
        <li v-for="s in start.steps" :key="s.item" :class="{ done: s.done }">
          <ElCheckbox :model-value="s.done" :aria-label="s.name" @change="tick(s.item, Boolean($event))"><b>{{ s.name }}</b></ElCheckbox>
          <p>{{ s.text }}</p>
          <p v-if="s.item === 'startup/fill' && start.filling.glycol_l > 0" class="mix" role="status">
            <template v-if="start.filling.measured_c == null">The mix has not been measured yet.</template>
            <template v-else>
Measured: freezes at {{ show("temperature", start.filling.measured_c, units) }}.
              <b v-if="start.filling.correct">Drain {{ show("content", start.filling.correct.drain_l, units) }}, and fill as much {{ start.filling.correct.add_glycol_l > 0 ? "glycol" : "water" }} in its place.</b>
              <template v-else-if="start.mixWaits">Whether that is right is worked out when it has been sent.</template><template v-else>That is right.</template>
</template>
          </p>
          <ElButton v-if="s.item === 'startup/fill' || s.item === 'startup/pressure'" size="large" @click="filling = true">Write down a reading</ElButton>
          <ElButton v-if="LEADS[s.item]" size="large" @click="tab = LEADS[s.item]!">{{ TABS.find((t) => t.value === LEADS[s.item])!.label }}: figures</ElButton>
          <small v-if="s.done && s.at">{{ s.who ? `${s.who}, ` : "" }}{{ when(s.at) }}</small>
        </li>
      </ol>
      <p class="care">Gas, oil, refrigerant and mains voltage belong to licensed trades. Follow local code and the manufacturer's instructions.</p>
    </div>
    <div v-else-if="tab === 'purge'" class="scroll" tabindex="0" role="region" aria-label="Purging">
      <p class="note">Cold, one loop open at a time. Air is carried along by {{ show("velocity", 0.4, units) }} and more.</p>
      <table class="grid-table">
        <thead><tr><th>Loop</th><th class="num">Flow</th><th class="num">{{ dialect("Pressure drop", units) }}</th><th class="num">Three contents</th><th>Circuit's own pump</th></tr></thead>
        <tbody>
          <tr v-for="p in start.purge" :key="p.loop_id">
            <td><b>{{ p.tag }}</b></td><td class="num">{{ show("flow", p.flow_l_min, units) }}</td><td class="num">{{ show("head", p.head_pa, units) }}</td><td class="num">{{ minutes(p.seconds) }}</td>
            <td :class="{ lacks: !p.own_pump }">{{ p.own_pump ? "can" : `gives ${show("head", p.pump_pa, units)}: purge pump` }}</td>
          </tr>
        </tbody>
      </table>
    </div>
    <div v-else-if="tab === 'flows'" class="scroll" tabindex="0" role="region" aria-label="Flows">
      <FlowSetting v-for="m in start.manifolds" :key="m.manifold_id" :manifold="m" />
    </div>
    <div v-else class="scroll" tabindex="0" role="region" aria-label="Heat-up">
      <HeatUp v-for="h in start.heat_ups" :key="h.build_up_id" :heat-up="h" />
    </div>
    <FillForm v-if="filling" @close="filling = false" />
  </section>
</template>

<style scoped>
.start-up { font-size: 16px; display: flex; flex-direction: column; min-height: 0; min-width: 0; background: var(--sheet); overflow: hidden; }
.bar { display: flex; gap: 6px 14px; align-items: center; flex-wrap: wrap; padding: 8px 14px; border-bottom: 1px solid var(--faint); }
.sum { margin: 0; color: var(--soft); }
.wait { padding: 20px; }
.scroll { overflow: auto; flex: 1; padding: 6px 14px 20px; font-size: 16px; }
.steps { list-style: none; margin: 0; padding: 0; max-width: 820px; }
.steps li { border-top: 1px solid var(--faint); padding: 4px 0 10px; }
.steps p { margin: 0 0 6px 30px; }
.steps :deep(.el-checkbox) { min-height: 48px; --el-checkbox-input-height: 22px; --el-checkbox-input-width: 22px; --el-checkbox-font-size: 17px; --el-checkbox-text-color: var(--ink); --el-checkbox-checked-text-color: var(--ink); }
.steps :deep(.el-checkbox__label) { font-size: 17px; }
.steps :deep(.el-button) { margin: 0 8px 0 30px; min-height: 48px; }
li.done b { color: var(--sound); }
small { color: var(--soft); margin-left: 30px; display: block; }
.mix b { color: var(--ember); }
.note, .care { color: var(--soft); max-width: 820px; }
.grid-table { font-size: 16px; max-width: 820px; }
.lacks { color: var(--ember); }
@media (max-width: 900px) { .start-up, .scroll { overflow: visible; } .bar { padding: 8px 10px; } }
</style>
