<script setup lang="ts">
/** Everything that is not done before the floor is covered, and the checklists of its build-ups. */
import { computed, ref } from "vue";
import { store } from "../../job/store";
import { outbox } from "../../offline/waiting";
import type { Log } from "./log";
import { notKept, when } from "./words";

const props = defineProps<{ log: Log }>();
const emit = defineEmits<{ loop: [tag: string] }>();
const wrong = ref("");
const open = computed(() => props.log.open.filter((o) => o.kind !== "check"));
const tagOf = (id: string) => props.log.loops.find((l) => l.loop_id === id)?.tag ?? props.log.harms.find((h) => h.record_id === id)?.tag;
const lists = computed(() => {
  const out = new Map<string, Log["checks"]>();
  for (const c of props.log.checks) out.set(c.about, [...(out.get(c.about) ?? []), c]);
  return [...out].map(([about, checks]) => ({ about, checks }));
});
async function tick(item: string, done: boolean) {
  wrong.value = "";
  try {
    await outbox.add(store.state.id, { fact: { kind: "ticked", item, done } });
  } catch (e) {
    wrong.value = notKept(e);
  }
}
</script>

<template>
  <div class="pour" tabindex="0" role="region" aria-label="Before the pour">
    <ElAlert v-if="wrong" type="error" :title="wrong" :closable="false" show-icon role="alert" />
    <p v-if="log.loops.length && !log.open.length" class="ready">Everything is done: the floor can be covered. Tubes stay under pressure while anything is poured, the gauge in sight.</p>
    <section v-if="open.length" aria-label="Open">
      <h2>Still open</h2>
      <ul>
        <li v-for="o in open" :key="o.kind + o.id">{{ o.text }} <ElButton v-if="tagOf(o.id)" link type="primary" @click="emit('loop', tagOf(o.id)!)">Go to {{ tagOf(o.id) }}</ElButton></li>
      </ul>
    </section>
    <section v-for="l in lists" :key="l.about" :aria-label="l.about">
      <h2>{{ l.about }}</h2>
      <ul class="checks">
        <li v-for="c in l.checks" :key="c.item">
          <ElCheckbox :model-value="c.done" @change="tick(c.item, Boolean($event))">{{ c.text }}</ElCheckbox>
          <small v-if="c.done && c.at">{{ c.who ? `${c.who}, ` : "" }}{{ when(c.at) }}</small>
        </li>
      </ul>
    </section>
    <p class="care">What local code asks for beyond this, ask the inspector.</p>
  </div>
</template>

<style scoped>
.pour { overflow: auto; flex: 1; padding: 4px 14px 20px; font-size: 16px; max-width: 760px; }
h2 { font-size: 17px; margin: 14px 0 4px; }
ul { padding-left: 20px; margin: 0; }
li { padding: 3px 0; }
.checks { list-style: none; padding: 0; }
.checks li { border-top: 1px solid var(--faint); }
.checks :deep(.el-checkbox) { min-height: 48px; height: auto; white-space: normal; font-size: 16px; --el-checkbox-input-height: 22px; --el-checkbox-input-width: 22px; --el-checkbox-text-color: var(--ink); --el-checkbox-checked-text-color: var(--ink); --el-checkbox-font-size: 16px; }
.checks :deep(.el-checkbox__label) { white-space: normal; line-height: 1.3; }
small { color: var(--soft); margin-left: 30px; display: block; }
.ready { color: var(--sound); font-weight: 600; }
.care { color: var(--soft); }
</style>
