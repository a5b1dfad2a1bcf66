<script setup lang="ts">
/** How good the layout is, by manifold and by room: what two layouts are compared by. */
import { computed } from "vue";
import type { RoomDesign } from "../../api/client";
import { store } from "../../job/store";
import DataTable from "../../kit/DataTable.vue";
import type { Column } from "../../kit/table";
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
type Manifold = (typeof manifolds.value)[number];
/** Turns are told for a length that the crew knows. */
const ten = computed(() => (units.value === "us" ? { name: "10 ft", metres: 3.048 } : { name: "10 m", metres: 10 }));
const ofIdeal = computed(() => (design.value?.loops ?? []).reduce((a, l) => a + l.quarter_turns, 0) / Math.max(1, design.value?.totals.ideal_turns ?? 0));
const uneven = (spread: number) => job.value?.rules.equal_loops && spread > 0.1;
const ofManifolds = computed<Column<Manifold>[]>(() => [
  { key: "letter", head: "Manifold", value: (m) => m.letter },
  { key: "loops", head: "Loops", value: (m) => m.loops, num: true, text: (m) => (m.locked ? `${m.loops}, ${m.locked} locked` : String(m.loops)) },
  { key: "lengths", head: "Lengths", value: (m) => m.most, num: true, text: (m) => `${s("tube", m.least)} – ${s("tube", m.most)}` },
  { key: "mean", head: "Mean", value: (m) => m.mean, quantity: "tube" },
  { key: "spread", head: "Spread", value: (m) => m.spread, num: true, title: "Largest deviation of a loop from the mean" },
  { key: "limit", head: "of the limit", value: (m) => m.of_limit, quantity: "share", title: "The longest loop beside the longest allowed" },
  { key: "leaders", head: "Leaders", value: (m) => m.leaders, quantity: "share", title: "Leaders' share of the tube" },
  { key: "turns", head: `Turns/${ten.value.name}`, value: (m) => m.turns, num: true, text: (m) => (m.turns * ten.value.metres).toFixed(1), title: `Quarter turns in ${ten.value.name} of tube. All loops together take ${s("share", ofIdeal.value)} of the turns of ideal serpentines.` },
  { key: "jogs", head: "Steps aside", value: (m) => m.jogs, num: true, text: (m) => m.jogs.toFixed(1), title: `Two opposite turns less than ${s("length", 0.6)} apart, in a loop on average` },
  { key: "straight", head: "Straights", value: (m) => m.straight, quantity: "share", title: `Share of the tube in straights of ${s("length", 1)} and more` },
  { key: "tube", head: "Tube", value: (m) => m.tube_m, quantity: "tube" },
  { key: "drop", head: "Pressure drop", value: (m) => m.head_needed_pa, quantity: "head" },
]);

const rooms = computed(() => (design.value?.rooms ?? []).filter((r) => job.value?.rooms.find((x) => x.id === r.id)?.floor));
const loopsOf = (id: string) => (design.value?.loops ?? []).filter((l) => l.room_ids.includes(id)).map((l) => l.tag).join(", ");
const ofRooms: Column<RoomDesign>[] = [
  { key: "room", head: "Room", value: (r) => r.name },
  { key: "loops", head: "Loops", value: (r) => loopsOf(r.id) || "none" },
  { key: "coverage", head: "Within reach of tube", value: (r) => r.coverage, quantity: "share" },
  { key: "farthest", head: "Farthest spot", value: (r) => r.coldest?.distance_m, quantity: "length" },
  { key: "density", head: "Tube by the spacing", value: (r) => r.density, quantity: "share", title: "Tube in its fields beside what the spacings ask for: less where edges are tighter than the tube bends, or leaders take the floor" },
  { key: "leaders", head: "Leaders of others", value: (r) => (r.leader_heat_w > 0.5 ? r.leader_heat_w : undefined), quantity: "heat" },
  { key: "warmest", head: "Warmest spot", value: (r) => r.warmest?.surface_c, quantity: "temperature" },
];
const look = (r: RoomDesign, at: readonly number[]) => store.select({ kind: "room", id: r.id, at: at as [number, number] });
</script>

<template>
  <div class="scroll" tabindex="0" role="region" aria-label="Score card">
    <DataTable
      :id="(m) => m.id" inline name="scores of manifolds" empty="No manifold yet." :columns="ofManifolds" :rows="manifolds" :chosen="(m) => where.selection?.id === m.id"
      :blank="(m) => (m.loops ? undefined : 'not used')" @choose="store.select({ kind: 'manifold', id: $event.id })">
      <template #cell-spread="{ row }"><span :class="{ off: uneven(row.spread) }">±{{ s("share", row.spread) }}</span></template>
    </DataTable>
    <DataTable :id="(r) => r.id" inline name="scores of rooms" empty="No heated floor yet." :columns="ofRooms" :rows="rooms" :chosen="(r) => where.selection?.id === r.id" @choose="store.select({ kind: 'room', id: $event.id })">
      <template #cell-coverage="{ row }"><span :class="{ off: (row.coverage ?? 0) < 0.9 }">{{ s("share", row.coverage) }}</span></template>
      <template #cell-farthest="{ row }"><ElButton v-if="row.coldest" link type="primary" @click="look(row, row.coldest.at)">{{ s("length", row.coldest.distance_m) }}</ElButton><template v-else>–</template></template>
      <template #cell-warmest="{ row }"><ElButton v-if="row.warmest" link type="primary" @click="look(row, row.warmest.at)">{{ s("temperature", row.warmest.surface_c) }}</ElButton><template v-else>–</template></template>
    </DataTable>
  </div>
</template>

<style scoped>
.scroll { overflow: auto; flex: 1; min-height: 0; }
.scroll :deep(.scroll) { overflow: visible; }
.off { color: var(--ember); font-weight: 600; }
</style>
