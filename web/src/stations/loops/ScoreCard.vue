<script setup lang="ts">
/** How good the layout is, by manifold and by room: what two layouts are compared by. */
import { computed } from "vue";
import { store } from "../../job/store";
import { show } from "../../units";

const { job, design, where, units } = store;
const s = (q: Parameters<typeof show>[0], v: number | null | undefined) => show(q, v, units.value);
const manifolds = computed(() =>
  (design.value?.manifolds ?? []).map((m) => {
    const loops = design.value!.loops.filter((l) => l.manifold_id === m.id);
    const lengths = loops.map((l) => l.length_m);
    const sum = (f: (l: (typeof loops)[number]) => number) => loops.reduce((a, l) => a + f(l), 0);
    const ease = { turns: sum((l) => l.quarter_turns) / Math.max(m.tube_m, 1e-9), jogs: sum((l) => l.jogs) / Math.max(1, loops.length), straight: sum((l) => l.straight_m) / Math.max(m.tube_m, 1e-9) };
    return { ...m, ...ease, loops: loops.length, least: Math.min(...lengths), most: Math.max(...lengths), mean: m.tube_m / Math.max(1, loops.length), locked: loops.filter((l) => l.locked).length };
  }),
);
/** Turns are told for a length that the crew knows. */
const ten = computed(() => (units.value === "us" ? { name: "10 ft", metres: 3.048 } : { name: "10 m", metres: 10 }));
const ofIdeal = computed(() => (design.value?.loops ?? []).reduce((a, l) => a + l.quarter_turns, 0) / Math.max(1, design.value?.totals.ideal_turns ?? 0));
const rooms = computed(() => (design.value?.rooms ?? []).filter((r) => job.value?.rooms.find((x) => x.id === r.id)?.floor));
const loopsOf = (id: string) => (design.value?.loops ?? []).filter((l) => l.room_ids.includes(id)).map((l) => l.tag).join(", ");
const uneven = (spread: number) => job.value?.rules.equal_loops && spread > 0.1;
</script>

<template>
  <div class="scroll" tabindex="0" role="region" aria-label="Score card">
    <table class="grid-table">
      <thead><tr><th>Manifold</th><th class="num">Loops</th><th class="num">Lengths</th><th class="num">Mean</th><th class="num">Spread</th><th class="num">of the limit</th><th class="num">Leaders</th><th class="num">Turns/{{ ten.name }}</th><th class="num">Steps aside</th><th class="num">Straights</th><th class="num">Tube</th><th class="num">Pressure drop</th></tr></thead>
      <tbody>
        <tr v-for="m in manifolds" :key="m.id" :class="{ chosen: where.selection?.id === m.id }">
          <td><ElButton link type="primary" @click="store.select({ kind: 'manifold', id: m.id })">{{ m.letter }}</ElButton></td>
          <td class="num">{{ m.loops }}<template v-if="m.locked">, {{ m.locked }} locked</template></td>
          <template v-if="m.loops">
            <td class="num">{{ s("tube", m.least) }} – {{ s("tube", m.most) }}</td>
            <td class="num">{{ s("tube", m.mean) }}</td>
            <td class="num" :class="{ off: uneven(m.spread) }" title="Largest deviation of a loop from the mean">±{{ s("share", m.spread) }}</td>
            <td class="num" title="The longest loop beside the longest allowed">{{ s("share", m.of_limit) }}</td>
            <td class="num" title="Leaders' share of the tube">{{ s("share", m.leaders) }}</td>
            <td class="num" :title="`Quarter turns in ${ten.name} of tube. All loops together take ${s('share', ofIdeal)} of the turns of ideal serpentines.`">{{ (m.turns * ten.metres).toFixed(1) }}</td>
            <td class="num" :title="`Two opposite turns less than ${s('length', 0.6)} apart, in a loop on average`">{{ m.jogs.toFixed(1) }}</td>
            <td class="num" :title="`Share of the tube in straights of ${s('length', 1)} and more`">{{ s("share", m.straight) }}</td>
            <td class="num">{{ s("tube", m.tube_m) }}</td>
            <td class="num">{{ s("head", m.head_needed_pa) }}</td>
          </template>
          <td v-else colspan="10">not used</td>
        </tr>
      </tbody>
    </table>
    <table class="grid-table">
      <thead><tr><th>Room</th><th>Loops</th><th class="num">Within reach of tube</th><th class="num">Farthest spot</th><th class="num">Tube by the spacing</th><th class="num">Leaders of others</th><th class="num">Warmest spot</th></tr></thead>
      <tbody>
        <tr v-for="r in rooms" :key="r.id" :class="{ chosen: where.selection?.id === r.id }">
          <td><ElButton link type="primary" @click="store.select({ kind: 'room', id: r.id })">{{ r.name }}</ElButton></td>
          <td>{{ loopsOf(r.id) || "none" }}</td>
          <td class="num" :class="{ off: (r.coverage ?? 0) < 0.9 }">{{ s("share", r.coverage) }}</td>
          <td class="num"><ElButton v-if="r.coldest" link type="primary" @click="store.select({ kind: 'room', id: r.id, at: r.coldest!.at as [number, number] })">{{ s("length", r.coldest.distance_m) }}</ElButton><template v-else>–</template></td>
          <td class="num" title="Tube in its fields beside what the spacings ask for: less where edges are tighter than the tube bends, or leaders take the floor">{{ s("share", r.density) }}</td>
          <td class="num">{{ r.leader_heat_w > 0.5 ? s("heat", r.leader_heat_w) : "–" }}</td>
          <td class="num"><ElButton v-if="r.warmest" link type="primary" @click="store.select({ kind: 'room', id: r.id, at: r.warmest!.at as [number, number] })">{{ s("temperature", r.warmest.surface_c) }}</ElButton><template v-else>–</template></td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.scroll { overflow: auto; flex: 1; min-height: 0; }
table + table { margin-top: 10px; }
.off { color: var(--ember); font-weight: 600; }
</style>
