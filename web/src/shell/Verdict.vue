<script setup lang="ts">
/** Whether the job is OK, in sentences, gravest first; a click selects the cause at its station. */
import { computed, ref } from "vue";
import { useRouter } from "vue-router";
import type { Finding, Remedy } from "../api/client";
import RemedyList from "../stations/floor/RemedyList.vue";
import { plantRemedies } from "../job/plantRemedies";
import { store } from "../job/store";
import LayoutRemedies from "../stations/loops/LayoutRemedies.vue";
import { helpedRoom } from "../stations/loops/remedies";
import FindingCard from "../kit/FindingCard.vue";
import { pathOf } from "../stations";
import CheckField from "../kit/CheckField.vue";

const router = useRouter();
const { design, state, where, job, designs } = store;
const onlyChosen = ref(false);

const chosenIds = computed(() => {
  const s = where.selection;
  if (!s) return null;
  const ids = new Set([s.id]);
  const room = job.value?.rooms.find((r) => r.id === s.id);
  if (room) {
    [...room.openings, ...room.keep_outs].forEach((x) => ids.add(x.id));
    design.value?.loops.filter((l) => l.room_ids.includes(room.id)).forEach((l) => ids.add(l.id));
  }
  return ids;
});
const findings = computed(() => {
  const all = design.value?.findings ?? [];
  const ids = chosenIds.value;
  return onlyChosen.value && ids ? all.filter((f) => [f.subject, ...(f.also ?? [])].some((s) => ids.has(s.id))) : all;
});
const count = (severity: Finding["severity"]) => (design.value?.findings ?? []).filter((f) => f.severity === severity).length;
const verdict = computed(() => {
  if (!design.value) return "Calculating…";
  if (!job.value?.rooms.length) return "Nothing to judge yet.";
  const [errors, warnings] = [count("error"), count("warning")];
  if (errors) return `${errors === 1 ? "1 error" : `${errors} errors`}${warnings ? `, ${warnings === 1 ? "1 warning" : `${warnings} warnings`}` : ""}.`;
  if (warnings) return `OK, with ${warnings === 1 ? "1 warning" : `${warnings} warnings`}.`;
  return "OK.";
});
/** Open matters first: those of this station, then the others; then what is good to know here. */
const here = (f: Finding) => f.station === where.station;
const open = computed(() => {
  const all = findings.value.filter((f) => f.severity !== "note");
  return [...all.filter(here), ...all.filter((f) => !here(f)), ...findings.value.filter((f) => f.severity === "note" && here(f) && !isOk(f))];
});
/** What only says that all is well, or belongs to other stations, is folded into one line. */
const isOk = (f: Finding) => f.code.endsWith(".sound");
const folded = computed(() => findings.value.filter((f) => f.severity === "note" && (isOk(f) || !here(f))));
const foldedWords = computed(() => {
  const rooms = new Set(folded.value.filter((f) => isOk(f) && f.subject.kind === "room").map((f) => f.subject.id)).size;
  const rest = folded.value.filter((f) => !isOk(f)).length;
  const parts = [rooms && `${rooms} ${job.value?.outdoors ? (rooms === 1 ? "area" : "areas") : rooms === 1 ? "room" : "rooms"} OK`, rest && `${rest} ${rest === 1 ? "note" : "notes"} at other stations`];
  return parts.filter(Boolean).join(", ") || "More";
});
const HELPED = /^(floor|field)\.(over_capacity|supply_limit|not_governing)$/;
const CONFLICT = new Set(["floor.supply_conflict", "floor.apart"]);
/** What the core has tried for a finding, and the room to which it is done. */
function helpFor(f: Finding): { room: string; remedies: Remedy[] } | null {
  const conflict = design.value?.conflict;
  if (conflict && CONFLICT.has(f.code)) return { room: conflict.room_id, remedies: conflict.remedies };
  const room = HELPED.test(f.code) ? design.value?.rooms.find((r) => r.id === f.subject.id) : undefined;
  return room?.remedies.length ? { room: room.id, remedies: room.remedies } : null;
}
const forPlant = (f: Finding) => (job.value && design.value ? plantRemedies(f.code, store.seen(job.value), design.value) : []);
function go(f: Finding) {
  const at = f.subject.at as [number, number] | undefined | null;
  store.select(f.subject.kind === "job" ? null : { kind: f.subject.kind, id: f.subject.id, at: at ?? undefined });
  void router.push(`/jobs/${state.id}/${pathOf(f.station)}`);
}
</script>

<template>
  <section class="verdict" aria-labelledby="verdict-title">
    <header>
      <h2 id="verdict-title">Verdict</h2>
      <CheckField v-if="where.selection" v-model="onlyChosen" label="of what is chosen">of what is chosen</CheckField>
    </header>
    <p class="sum" role="status">{{ verdict }}</p>
    <p v-if="designs.state.problem" class="trouble" role="alert">
      Not worked out: {{ designs.state.problem.detail }}
    </p>
    <p v-else-if="designs.state.offline" class="trouble" role="alert">
      Fuoco's server does not answer; these are the figures before your last edits.
    </p>
    <ul>
      <li v-for="(f, i) in open" :key="`${f.code}-${f.subject.id}-${i}`">
        <FindingCard :finding="f" :bare="helpFor(f) !== null && !CONFLICT.has(f.code)" @click="go(f)" />
        <RemedyList v-if="helpFor(f)" :room-id="helpFor(f)!.room" :remedies="helpFor(f)!.remedies" />
        <LayoutRemedies v-if="helpedRoom(f)" :room-id="helpedRoom(f)" />
        <p v-if="forPlant(f).length" class="do"><ElButton v-for="r in forPlant(f)" :key="r.words" size="small" @click="store.edit(r.label, r.edit)">{{ r.words }}</ElButton></p>
      </li>
    </ul>
    <el-collapse v-if="folded.length" class="rest">
      <el-collapse-item :title="foldedWords" name="rest">
        <ul>
          <li v-for="(f, i) in folded" :key="`${f.code}-${f.subject.id}-${i}`">
            <FindingCard :finding="f" @click="go(f)" />
          </li>
        </ul>
      </el-collapse-item>
    </el-collapse>
    <p v-if="findings.length === 0 && design" class="quiet">Nothing to say about this.</p>
  </section>
</template>

<style scoped>
.verdict { padding: 10px 12px; }
header { display: flex; justify-content: space-between; align-items: center; }
.sum { font-weight: 600; margin: 4px 0 8px; }
ul { list-style: none; margin: 0; padding: 0; }
.quiet { color: var(--soft); font-size: 12px; }
.do { margin: 0 0 8px; padding-left: 14px; }
.trouble { padding: 6px 10px; border-left: 6px solid var(--ember); background: var(--ember-soft); font-weight: 600; }
.rest { margin-top: 8px; --el-collapse-header-bg-color: transparent; --el-collapse-content-bg-color: transparent; --el-collapse-header-height: 36px; }
</style>
