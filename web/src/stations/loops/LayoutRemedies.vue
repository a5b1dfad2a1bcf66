<script setup lang="ts">
/** What would bring tube to a room, or make leaders shorter: each change was laid out; one click takes it. */
import { ref, shallowRef, watch } from "vue";
import { answer, api, type LayoutFigures, type LayoutRemedies, type LayoutRemedy } from "../../api/client";
import { store } from "../../job/store";
import { show } from "../../units";
import { takeRemedy } from "./remedies";

const props = defineProps<{ roomId?: string }>();
const { job, where, units } = store;
const found = shallowRef<LayoutRemedies | null>(null);
const busy = ref(false);
const problem = ref("");
// what was found belongs to the job as it was
watch([() => props.roomId, job], () => (found.value = null));
async function look() {
  const asked = job.value;
  if (!asked) return;
  busy.value = true;
  problem.value = "";
  try {
    const got = await answer(api.POST("/api/loops/remedies", { body: { job: store.seen(asked), room_id: props.roomId ?? null } }));
    if (asked === job.value) found.value = got;
  } catch (e) {
    problem.value = e instanceof Error ? e.message : String(e);
  } finally {
    busy.value = false;
  }
}
/** What a change costs and brings, against the layout as it is. */
function cost(after: LayoutFigures): string {
  const before = found.value!.before;
  const more = (n: number, one: string, many: string) => (n === 0 ? [] : [`${n > 0 ? "+" : "−"}${Math.abs(n)} ${Math.abs(n) === 1 ? one : many}`]);
  const tube = (m: number) => `${m >= 0 ? "+" : "−"}${show("tube", Math.abs(m), units.value)}`;
  const parts = [...more(after.loops - before.loops, "loop", "loops"), `${tube(after.tube_m - before.tube_m)} tube (leaders ${tube(after.leaders_m - before.leaders_m)})`];
  const left = after.violations + after.bare_rooms + after.problems + after.too_long;
  parts.push(left === 0 ? "then all is OK" : `${left === 1 ? "one thing is" : `${left} things are`} left`);
  return parts.join(", ");
}
const see = (r: LayoutRemedy) => store.select(r.at && props.roomId ? { kind: "room", id: props.roomId, at: r.at as [number, number] } : where.selection);
function take(r: LayoutRemedy) {
  store.edit("take a remedy", (draft) => takeRemedy(draft, r));
}
</script>

<template>
  <div class="remedies">
    <ElButton size="small" :loading="busy" @click="look">{{ roomId ? "What would help?" : "Look for shorter ways" }}</ElButton>
    <p v-if="problem" class="wrong" role="alert">{{ problem }}</p>
    <ul v-if="found?.remedies.length" aria-label="Remedies">
      <li v-for="(r, i) in found.remedies" :key="i" @pointerenter="see(r)">
        <ElButton class="take" size="small" type="primary" plain :aria-label="`Take: ${r.message}`" @click="take(r)">Take</ElButton>
        {{ r.message }}<br /><span class="cost">{{ cost(r.after) }}</span>
      </li>
    </ul>
    <p v-else-if="found" class="cost">{{ roomId ? "Nothing that was tried helps: clear the way, or heat this room another way." : `No sleeve saves more than ${show("length", job?.rules.sleeve_saves_m ?? 0, units)} each way (house rule).` }}</p>
    <p v-if="found?.remedies.length" class="cost">Each was laid out. Walls that carry, fire walls and floors want their engineer and the local code before they are drilled.</p>
  </div>
</template>

<style scoped>
.remedies { margin: 2px 0 8px; }
ul { list-style: none; margin: 4px 0 0; padding: 0; font-size: 13px; }
li { padding: 5px 0; border-top: 1px solid var(--line); overflow: hidden; }
.take { float: right; margin: 2px 0 2px 8px; }
.cost { color: var(--soft); font-size: 13px; margin: 4px 0 0; }
.wrong { color: var(--ember); }
</style>
