<script setup lang="ts">
/** Coils as bars with the loops on them; a loop is dragged to another coil, or sent there by its list. */
import { computed, ref } from "vue";
import type { CoilDesign, CutDesign, Job, MaterialsDesign, TubeCoils } from "../../api/client";
import { purchasing } from "../../job/purchasing";
import { store } from "../../job/store";
import ChoiceField from "../../kit/ChoiceField.vue";
import JobField from "../../kit/JobField.vue";
import { show } from "../../units";
import { OBJECTIVES, SCHOOLS } from "../../words";
import { useMaterials } from "./counted";
import { moveLoop, otherCoil, planAgain } from "./hand";

const props = defineProps<{ counted: MaterialsDesign }>();
const { units, job } = store;
const { money, old } = useMaterials();
const tube = (m: number) => show("tube", m, units.value);
const longest = computed(() => Math.max(1, ...props.counted.coils.flatMap((t) => t.coils.map((c) => c.length_m + c.missing_m))));
const percent = (m: number) => `${(100 * m) / longest.value}%`;
const choice = computed(() => job.value?.purchasing?.coils);
const set = (key: "school" | "objective", to: string) => store.edit(key === "school" ? "choose how coils are cut" : "choose what the coils have least of", (j: Job) => void ((purchasing(j, "coils") as Record<string, unknown>)[key] = to));

const picked = ref("");
const place = (of: TubeCoils, loopId: string) => of.coils.findIndex((c) => c.cuts.some((cut) => cut.loop_id === loopId));
const places = (of: TubeCoils, loopId: string) => [...of.coils.map((c, i) => ({ value: i, text: `${c.coil}, ${tube(c.length_m)}${i === place(of, loopId) ? " (here)" : c.left_m > 0 ? `, ${tube(c.left_m)} left` : ""}` })), { value: of.coils.length, text: "a coil of its own" }];
// a move starts from the plan that is shown: while that is an older one it waits
const move = (of: TubeCoils, loopId: string, to: number) => !old.value && store.edit("put a loop on another coil", (j: Job) => moveLoop(j, of, loopId, to));
const take = (of: TubeCoils, i: number, length: string) => !old.value && store.edit("take another coil", (j: Job) => otherCoil(j, of, i, Number(length)));
const again = (of: TubeCoils) => store.edit("plan the coils again", (j: Job) => planAgain(j, of));
const byHand = (of: TubeCoils) => of.coils.some((c) => c.by_hand);
const lengths = (of: TubeCoils, c: CoilDesign) => [...new Set([...of.offered.map((o) => o.length_m), c.length_m])].sort((a, b) => a - b).map((l) => ({ value: String(l), text: tube(l) }));

/** The loop that is dragged, and the coil over which it is. */
const dragged = ref<{ of: TubeCoils; cut: CutDesign; x: number; y: number; over: number | null } | null>(null);
function grab(e: PointerEvent, of: TubeCoils, cut: CutDesign) {
  if (e.button !== 0 || old.value) return;
  picked.value = cut.loop_id;
  dragged.value = { of, cut, x: e.clientX, y: e.clientY, over: null };
  (e.currentTarget as HTMLElement).setPointerCapture(e.pointerId);
}
function drag(e: PointerEvent) {
  const d = dragged.value;
  if (!d) return;
  const bar = document.elementsFromPoint(e.clientX, e.clientY).find((x) => x instanceof HTMLElement && x.dataset.tube === d.of.tube_id) as HTMLElement | undefined;
  Object.assign(d, { x: e.clientX, y: e.clientY, over: bar ? Number(bar.dataset.coil) : null });
}
function drop() {
  const d = dragged.value;
  dragged.value = null;
  if (d && d.over !== null && d.over !== place(d.of, d.cut.loop_id)) move(d.of, d.cut.loop_id, d.over);
}
const told = (of: TubeCoils) => (of.objective === "price" ? money(of.planned) : of.objective === "waste" ? `${tube(of.planned)} of waste` : `${of.planned} coils`);
const bound = (of: TubeCoils) => (of.objective === "price" ? money(of.bound) : of.objective === "waste" ? tube(of.bound) : `${of.bound} coils`);
</script>

<template>
  <div class="coils" tabindex="0" role="region" aria-label="Coils">
    <div class="choices">
      <label>Coils <ChoiceField :model-value="choice?.school ?? 'cut_as_needed'" :options="SCHOOLS" label="How loops come out of coils" @update:model-value="set('school', $event)" /></label>
      <label>Minimize <ChoiceField :model-value="choice?.objective ?? 'price'" :options="OBJECTIVES" label="What the plan has least of" @update:model-value="set('objective', $event)" /></label>
      <label>Tails per loop <JobField path="purchasing.coils.reserve.per_loop_m" label="Tails of a loop" /></label>
      <label>Measuring loss <JobField path="purchasing.coils.reserve.share" label="Measuring loss" /></label>
    </div>
    <p v-if="!counted.coils.length" class="quiet">No loops yet.</p>
    <section v-for="of in counted.coils" :key="of.tube_id" :aria-label="`Coils of ${of.name}`">
      <h3>
        {{ of.name }}: {{ tube(of.drawn_m) }} drawn ({{ tube(of.thumb_m) }} by floor ÷ spacing), {{ tube(of.cut_m) }} cut, {{ tube(of.bought_m) }} bought<template v-if="of.price !== null && of.price !== undefined">, {{ money(of.price) }}</template>
        <ElButton v-if="byHand(of)" size="small" @click="again(of)">Plan again</ElButton>
      </h3>
      <p v-if="of.coils.some((c) => !c.by_hand)" class="quiet">Planned coils: {{ told(of) }}<template v-if="of.optimal">, proved to be the least</template><template v-else>; no plan has less than {{ bound(of) }}</template>.<template v-if="(choice?.objective ?? 'price') === 'price' && of.objective !== 'price'"> Prices of coils are missing: planned for the least waste.</template></p>
      <p v-if="of.on_paper" class="paper" role="note">On paper {{ of.on_paper.tags.join(", ") }} fit a coil of {{ tube(of.on_paper.length_m) }}; with tails and measuring loss {{ tube(of.on_paper.missing_m) }} are missing. Shorten a loop by another split or spacing to save that coil.</p>
      <p v-if="of.refused" class="wrong" role="alert">Not planned: {{ of.refused }}.</p>
      <ul v-if="of.too_long.length" class="wrong" aria-label="Loops longer than any coil"><li v-for="l in of.too_long" :key="l.loop_id">{{ l.tag }}: {{ tube(l.cut_m) }} with its reserve, {{ tube(l.missing_m) }} longer than the longest coil. Split it, lay it wider, or take a longer coil.</li></ul>
      <ol class="bars">
        <li v-for="(c, i) in of.coils" :key="c.coil" :data-tube="of.tube_id" :data-coil="i" class="row" :class="{ over: dragged?.of.tube_id === of.tube_id && dragged.over === i }" :aria-label="`Coil ${c.coil}`">
          <span class="name"><b>{{ c.coil }}</b> <ChoiceField :model-value="String(c.length_m)" :options="lengths(of, c)" :disabled="old" :label="`Length of coil ${c.coil}`" @update:model-value="take(of, i, $event)" /></span>
          <span class="track">
            <span class="whole" :style="{ width: percent(c.length_m) }"></span>
            <ElButton
              v-for="cut in c.cuts" :key="cut.loop_id" class="cut" :class="{ picked: picked === cut.loop_id, moving: dragged?.cut.loop_id === cut.loop_id }" :style="{ left: percent(cut.from_m), width: percent(cut.to_m - cut.from_m) }"
              :title="`${cut.tag}: ${tube(cut.drawn_m)} drawn, from mark ${tube(cut.from_m)} to ${tube(cut.to_m)}`" :aria-label="`${cut.tag}, from ${tube(cut.from_m)} to ${tube(cut.to_m)}`"
              @click="picked = cut.loop_id" @pointerdown="grab($event, of, cut)" @pointermove="drag" @pointerup="drop" @pointercancel="dragged = null"><b>{{ cut.tag }}</b><small>{{ tube(cut.from_m) }}</small></ElButton>
            <span v-if="c.missing_m > 0" class="short" :style="{ left: percent(c.length_m), width: percent(c.missing_m) }"></span>
          </span>
          <span class="left" :class="{ wrong: c.missing_m > 0 }"><template v-if="c.missing_m > 0">{{ tube(c.missing_m) }} missing{{ c.on_paper ? ": fits on paper only" : "" }}</template><template v-else>{{ tube(c.left_m) }} left</template></span>
        </li>
        <li v-if="dragged?.of.tube_id === of.tube_id" :data-tube="of.tube_id" :data-coil="of.coils.length" class="row new" :class="{ over: dragged.over === of.coils.length }">a coil of its own</li>
      </ol>
      <p v-if="place(of, picked) >= 0" class="send">
        <label>{{ of.coils[place(of, picked)]?.cuts.find((c) => c.loop_id === picked)?.tag }} comes out of <ChoiceField :model-value="place(of, picked)" :options="places(of, picked)" :disabled="old" label="Coil of the chosen loop" @update:model-value="move(of, picked, Number($event))" /></label>
      </p>
    </section>
    <span v-if="dragged" class="ghost" aria-hidden="true" :style="{ left: `${dragged.x + 8}px`, top: `${dragged.y + 8}px` }">{{ dragged.cut.tag }}</span>
    <p class="quiet">Marks count from the free end of a coil. Each loop is cut with its reserve; a loop has no joint.</p>
  </div>
</template>

<style scoped>
.coils { flex: 1; min-height: 0; overflow: auto; padding: 6px 14px; }
.choices { display: flex; flex-wrap: wrap; gap: 6px 18px; align-items: center; }
.choices label, .send label { display: inline-flex; gap: 6px; align-items: center; }
.choices .choice { width: 190px; }
.send .choice { width: 230px; }
h3 { display: flex; gap: 12px; align-items: center; margin: 12px 0 2px; }
p { margin: 2px 0; }
.bars { list-style: none; margin: 6px 0; padding: 0; }
.row { display: grid; grid-template-columns: 150px minmax(0, 1fr) 150px; gap: 10px; align-items: center; padding: 3px 0; }
.row.over { background: var(--faint); }
.row.new { display: block; border: 1px dashed var(--line); text-align: center; padding: 8px; }
.name { display: flex; gap: 8px; align-items: center; }
.track { position: relative; height: 36px; }
.whole { position: absolute; inset: 0 auto 0 0; border: 1px solid var(--ink); background: repeating-linear-gradient(135deg, transparent 0 5px, var(--faint) 5px 6px); }
.cut.el-button { position: absolute; top: 0; height: 100%; min-width: 0; margin: 0; padding: 0 4px; border: 1px solid var(--ink); border-radius: 0; background: var(--paper); color: var(--ink); justify-content: flex-start; overflow: hidden; cursor: grab; touch-action: none; }
.cut.picked { background: var(--faint); outline: 2px solid var(--ember); outline-offset: -2px; }
.cut.moving { opacity: 0.5; }
.cut small { margin-left: 5px; color: var(--soft); }
.short { position: absolute; top: 0; bottom: 0; border: 1px dashed var(--ember); }
.wrong { color: var(--ember); font-weight: 600; }
.paper { border-left: 3px solid var(--ember); padding-left: 8px; }
.quiet { color: var(--soft); }
.ghost { position: fixed; z-index: 20; pointer-events: none; background: var(--paper); border: 1px solid var(--ember); padding: 2px 8px; }
@media (max-width: 900px) { .row { grid-template-columns: 1fr; } }
</style>
