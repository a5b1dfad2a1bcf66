<script setup lang="ts">
/** The practice rig: ten lessons at a manifold on which hands turn valves while time runs. */
import { computed, nextTick, onMounted, ref } from "vue";
import { useRoute } from "vue-router";
import { answer, api, type JobEntry, type LessonText } from "../api/client";
import { usualUnits, viewer } from "../job/viewer";
import ChoiceField from "../kit/ChoiceField.vue";
import { useTheme } from "../shell/theme";
import { show, type Quantity } from "../units";
import { usePractice, clock, SPEEDS } from "./practice";
import RigCamera from "./RigCamera.vue";
import RigPort from "./RigPort.vue";
import RigRoom from "./RigRoom.vue";

useTheme();
const route = useRoute();
const units = computed(() => (viewer.units.value === "job" ? usualUnits() : viewer.units.value));
const { lessons, progress, running, lesson, now, state, load, open, ask, begin, move, hint, wait, leave, played } = usePractice(units);
const s = (q: Quantity, v: number | null | undefined) => show(q, v, units.value);
const jobs = ref<JobEntry[]>([]);
const on = ref(typeof route.query.job === "string" ? route.query.job : "");
const story = ref<HTMLElement>();
onMounted(async () => {
  await load();
  jobs.value = await answer(api.GET("/api/jobs")).catch(() => []);
  if (running.value?.jobId) await open(running.value.jobId);
  else if (running.value) void ask();
});
const has = (tool: LessonText["tools"][number]) => lesson.value?.tools.includes(tool) ?? false;
const fits = (l: LessonText) => !on.value || l.on_own_job;
async function start(l: LessonText) {
  await begin(l.lesson, on.value);
  await nextTick();
  story.value?.focus();
}
const done = computed(() => lessons.value.filter((l) => progress.value[l.lesson]).length);
const GRADES = ["", "easy", "middling", "hard"];
const test = computed(() => now.value?.test ?? null);
const verdict = ref<"" | "tight" | "leaks">("");
</script>

<template>
  <main class="practice" :aria-busy="state.busy">
    <header>
      <h1>Practice rig</h1>
      <p class="lead">A manifold, its pump, its source and rooms, by the same calculation as your jobs. Instruments read as instruments do.</p>
      <RouterLink to="/">All jobs</RouterLink>
    </header>
    <ElAlert v-if="state.trouble" type="error" :title="state.trouble" :closable="false" show-icon>
      <ElButton v-if="running" size="small" @click="leave">Back to the lessons</ElButton>
    </ElAlert>

    <section v-if="!running" aria-labelledby="lessons">
      <div class="line">
        <h2 id="lessons">Lessons <small>{{ done }} of {{ lessons.length }} done</small></h2>
        <label>On <ChoiceField :model-value="on || undefined" :options="jobs.map((j) => ({ value: j.id, text: j.name }))" label="House of the lessons" empty="the practice house" @update:model-value="on = $event ?? ''" /></label>
      </div>
      <ol class="lessons">
        <li v-for="l in lessons" :key="l.lesson" :class="{ off: !fits(l) }">
          <div>
            <b>{{ l.name }}</b> <span class="grade">{{ GRADES[l.grade] }}</span>
            <p>{{ l.story }}</p>
          </div>
          <span class="made">{{ progress[l.lesson] ? `done in ${progress[l.lesson]!.moves}, best ${progress[l.lesson]!.best}${progress[l.lesson]!.hints ? `, hints ${progress[l.lesson]!.hints}` : ""}` : "" }}</span>
          <ElButton type="primary" :disabled="!fits(l)" :aria-label="`Begin: ${l.name}`" @click="start(l)">Begin</ElButton>
        </li>
      </ol>
    </section>

    <template v-else-if="lesson">
      <section ref="story" class="story" tabindex="-1" aria-labelledby="lesson">
        <div class="line">
          <h2 id="lesson">{{ lesson.name }}</h2>
          <ElButton @click="leave">Back to the lessons</ElButton>
        </div>
        <p>{{ lesson.story }}</p>
        <p><b>Aim:</b> {{ lesson.aim }}</p>
        <ol v-if="running.hints" class="hints" aria-label="Hints"><li v-for="h in lesson.hints.slice(0, running.hints)" :key="h">{{ h }}</li></ol>
        <ElButton v-if="running.hints < 3 && !now?.debrief" link type="primary" @click="hint">{{ running.hints ? "A plainer hint" : "A hint" }}</ElButton>
      </section>
      <p v-if="!now" role="status">Calculating…</p>
      <template v-else>
        <div class="clock">
          <output aria-label="Clock">{{ clock(running.trial.now_s) }}</output>
          <ElSegmented v-model="state.speed" size="small" :options="SPEEDS" aria-label="How fast time runs" />
          <ElButton size="small" :disabled="!!now.debrief" @click="wait(3600)">Wait an hour</ElButton>
          <ElButton size="small" :disabled="!!now.debrief" @click="wait(86400)">Wait a day</ElButton>
          <span>{{ (running.trial.moves ?? []).length === 1 ? "1 move" : `${(running.trial.moves ?? []).length} moves` }}</span>
          <span v-if="now.says" class="says" role="status">{{ now.says }}</span>
        </div>
        <section v-if="now.debrief" class="debrief" aria-labelledby="debrief" role="status">
          <h3 id="debrief">Done</h3>
          <p><b>{{ now.debrief.moves === 1 ? "One move" : `${now.debrief.moves} moves` }}; the least is {{ now.debrief.best }}.</b> {{ clock(now.debrief.at_s) }}.</p>
          <p>{{ now.debrief.text }}</p>
          <ElButton type="primary" @click="begin(lesson.lesson, running.jobId)">Once more</ElButton>
        </section>
        <section v-if="test" class="gauge" aria-label="Pressure test">
          <dl>
            <dt>Gauge when it was put on</dt><dd>{{ s("gauge", test.gauge_kpa[0]! * 1000) }}, slab {{ s("temperature", test.slab_c[0]) }}</dd>
            <dt>Gauge now</dt><dd>{{ s("gauge", test.gauge_kpa[1]! * 1000) }}, slab {{ s("temperature", test.slab_c[1]) }}</dd>
            <!-- the learner's own arithmetic comes first -->
            <template v-if="running.trial.moves?.length">
            <dt>Lost, with the temperature taken out</dt><dd>{{ s("gauge", test.drop_kpa[0]! * 1000) }}, in doubt by {{ s("gauge", test.drop_kpa[1]! * 1000) }}</dd>
            <dt>What that proves</dt><dd>{{ test.reason }}</dd>
            </template>
          </dl>
          <ElRadioGroup v-model="verdict" aria-label="Your verdict" :disabled="!!now.debrief" @change="move({ what: 'verdict', tight: verdict === 'tight' })">
            <ElRadioButton value="tight">It is tight</ElRadioButton>
            <ElRadioButton value="leaks">It leaks</ElRadioButton>
          </ElRadioGroup>
        </section>
        <div v-else class="bench">
          <RigRoom :now="now" :has="has" :units="units" :over="!!now.debrief" :busy="state.busy" @move="move" />
          <ul class="ports" aria-label="Manifold">
            <RigPort v-for="p in now.ports" :key="p.port" :port="p" :most="now.most_turns" :has="has" :units="units" :over="!!now.debrief" :busy="state.busy" @move="move" />
          </ul>
          <RigCamera :key="`${running.trial.lesson} ${running.trial.seed}`" :asks="() => played(running!)" :at="clock(running.trial.now_s)" :units="units" />
        </div>
      </template>
    </template>
  </main>
</template>

<style scoped>
.practice { max-width: 1200px; margin: 0 auto; padding: 14px 18px 40px; }
header { display: flex; flex-wrap: wrap; align-items: baseline; gap: 4px 18px; }
h1 { margin: 0; font-size: 24px; }
h2 small { font-size: 14px; font-weight: 400; color: var(--soft); margin-left: 8px; }
.lead { margin: 0; color: var(--soft); flex: 1 1 300px; }
.line { display: flex; flex-wrap: wrap; justify-content: space-between; align-items: center; gap: 6px 18px; }
.line label { display: flex; align-items: center; gap: 6px; }
.line :deep(.choice) { width: 220px; }
.lessons { list-style: decimal inside; padding: 0; margin: 0; }
.lessons li { display: grid; grid-template-columns: 1fr auto auto; gap: 4px 18px; align-items: center; padding: 8px 0; border-top: 1px solid var(--line); }
.lessons li.off { opacity: 0.7; }
.lessons p { margin: 2px 0 0; color: var(--soft); }
.grade { border: 1px solid var(--line); border-radius: 3px; padding: 0 6px; font-size: 12px; margin-left: 6px; }
.made { white-space: nowrap; }
.story { outline: none; }
.story p { margin: 4px 0; }
.hints { margin: 4px 0; padding-left: 22px; }
.clock { display: flex; flex-wrap: wrap; align-items: center; gap: 6px 14px; padding: 6px 0; position: sticky; top: 0; background: var(--paper); z-index: 2; border-bottom: 1px solid var(--line); }
.clock output { min-width: 110px; font-variant-numeric: tabular-nums; font-weight: 650; }
.says { color: var(--ember); font-weight: 600; }
.debrief { border: 1px solid var(--sound); border-radius: 4px; padding: 8px 14px; margin: 10px 0; background: var(--sheet); }
.debrief h3 { margin: 0; }
.debrief p { max-width: 76ch; }
.gauge dl { display: grid; grid-template-columns: max-content 1fr; gap: 4px 16px; max-width: 900px; }
.gauge dd { margin: 0; }
.bench { margin-top: 8px; }
.ports { list-style: none; margin: 10px 0 0; padding: 0; display: grid; grid-template-columns: repeat(auto-fit, minmax(150px, 1fr)); gap: 8px; }
@media (max-width: 700px) { .lessons li { grid-template-columns: 1fr auto; } .made { grid-column: 1; } .gauge dl { grid-template-columns: 1fr; } }
</style>
