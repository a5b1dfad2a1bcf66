<script setup lang="ts">
/** What would help a room, each tried by the core; what can be taken has a button, and is one step of undo. */
import type { Remedy } from "../../api/client";
import { REMEDIES } from "../../words";
import * as floors from "../../job/floors";
import { store } from "../../job/store";
import { show, whole } from "../../units";

defineProps<{ roomId: string; remedies: Remedy[] }>();
const s = (q: Parameters<typeof show>[0], v: number | null | undefined) => show(q, v, store.units.value);
const covering = (id: string) => store.library.value?.coverings.find((c) => c.id === id)?.name ?? id;
function words(r: Remedy): string {
  const out = [REMEDIES[r.kind] as string];
  if (r.floor && r.kind !== "covering") out.push(s("size", r.floor.spacing_core_m));
  if (r.floor && r.kind !== "spacing") out.push(covering(r.floor.covering_id));
  if (r.field) out.push(s("area", r.field.width_m * r.field.height_m));
  if (r.own_circuit) out.push(r.own_circuit.room_ids.map((id) => store.job.value?.rooms.find((x) => x.id === id)?.name).join(", "));
  if (r.heat_w) out.push(s("heat", r.heat_w));
  return out.length > 1 ? `${out[0]}: ${out.slice(1).join(", ")}` : out[0]!;
}
/** What comes of it, of the whole circuit where rooms leave it. */
const outcome = (r: Remedy) => (r.own_circuit ? `${s("temperature", r.own_circuit.supply_c)} there, ${s("temperature", r.own_circuit.others_c)} for the others${r.enough ? "" : `; still short by ${s("heat", r.short_w)}`}` : outcomeOfRoom(r));
const outcomeOfRoom = (r: Remedy) => (r.enough ? (r.supply_c ? `then OK, at ${s("temperature", r.supply_c)} supply` : "then OK") : `still short by ${s("heat", r.short_w)}`);
</script>

<template>
  <ul class="remedies" aria-label="What would help">
    <li v-for="(r, i) in remedies" :key="i">
      <span>{{ whole(`${words(r)}; ${outcome(r)}.`) }}</span>
      <el-button v-if="r.floor || r.field || r.emitter || r.own_circuit" size="small" :aria-label="`Take it: ${words(r)}`" @click="floors.takeRemedy(roomId, r)">Take it</el-button>
    </li>
  </ul>
</template>

<style scoped>
.remedies { list-style: none; margin: 2px 0 6px; padding: 0 0 0 10px; font-size: 13px; }
.remedies li { display: flex; gap: 8px; align-items: center; justify-content: space-between; padding: 2px 0; }
</style>
