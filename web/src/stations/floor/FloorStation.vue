<script setup lang="ts">
/** The floor of a room: its section solved and drawn, what that means, floors side by side, patches and fields. */
import { computed, onBeforeUnmount, ref, watch } from "vue";
import { answer, api, type BuildUp, type SectionPicture, type Shown } from "../../api/client";
import { store } from "../../job/store";
import { PLAN, useStationView } from "../view";
import * as floors from "../../job/floors";
import CompareFloors from "./CompareFloors.vue";
import LayerBar from "./LayerBar.vue";
import PatchesAndFields from "./PatchesAndFields.vue";
import SectionAnswers from "./SectionAnswers.vue";
import SectionDrawing from "./SectionDrawing.vue";
import ChoiceField from "../../kit/ChoiceField.vue";

const { show: showView } = useStationView();
const { job, design, where } = store;
const rooms = computed(() => (job.value?.rooms ?? []).filter((r) => !r.unheated));
const room = computed(() => rooms.value.find((r) => r.id === where.selection?.id) ?? rooms.value.find((r) => r.id === last.value) ?? rooms.value.find((r) => r.floor) ?? rooms.value[0]);
const last = ref("");
watch(() => room.value?.id, (id) => (last.value = id ?? ""));
const view = ref<"section" | "compare" | "parts">("section");

const zones = computed(() => {
  const out: { key: string; name: string; shown: Shown }[] = [];
  const of = room.value;
  if (of?.floor) {
    out.push({ key: "core", name: "Floor", shown: { zone: "core" } });
    if (of.floor.spacing_edge_m < of.floor.spacing_core_m) out.push({ key: "edge", name: "Perimeter zone", shown: { zone: "edge" } });
    (of.floor.patches ?? []).forEach((_, index) => out.push({ key: `patch-${index}`, name: `Patch ${index + 1}`, shown: { zone: "patch", index } }));
  }
  (of?.fields ?? []).forEach((f, index) => out.push({ key: `field-${index}`, name: f.edge === undefined || f.edge === null ? "Ceiling field" : `Wall field ${index + 1}`, shown: { zone: "field", index } }));
  return out;
});
const zoneKey = ref("core");
const zone = computed(() => zones.value.find((z) => z.key === zoneKey.value) ?? zones.value[0]);
const use = computed<floors.Use | null>(() => {
  const of = room.value;
  const shown = zone.value?.shown;
  return of && shown ? { room: of.id, field: shown.zone === "field" ? shown.index : undefined } : null;
});
const buildUpId = computed(() => (use.value?.field !== undefined ? room.value?.fields?.[use.value.field]?.build_up_id : room.value?.floor?.build_up_id));

const picture = ref<SectionPicture | null>(null);
const trouble = ref("");
let asked = 0;
async function draw() {
  const of = room.value;
  const z = zone.value;
  if (!of || !z || !job.value || view.value !== "section") return;
  const mine = ++asked;
  try {
    const got = await answer(api.POST("/api/floor/section", { body: { job: store.seen(job.value), room_id: of.id, shown: z.shown } }));
    if (mine !== asked) return;
    picture.value = got;
    trouble.value = "";
  } catch (e) {
    if (mine === asked) trouble.value = e instanceof Error ? e.message : String(e);
  }
}
// the design answers every edit: then the picture is asked for too
watch(() => [design.value, room.value?.id, zone.value?.key, view.value], () => void draw(), { immediate: true });
onBeforeUnmount(() => (asked += 1));

const chosen = ref<number | null>(null);
watch([() => room.value?.id, () => zone.value?.key], () => (chosen.value = null));
/** By hand the tube's layer gets no thinner than its tube. */
function thicken(index: number, to: number, merge: string) {
  const least = (b: BuildUp) => (index === b.tube_layer ? (picture.value?.tube_od_m ?? 0) + b.tube_gap_m : 0.001);
  if (use.value) floors.changeBuildUp(use.value, "thicken a layer", (b) => floors.setThickness(b, index, Math.max(least(b), to)), merge);
}
// from what the layer is in the job, which the picture may not show yet
const thickness = (index: number) => floors.buildUp(buildUpId.value)?.layers[index]?.thickness_m ?? 0;
const grow = (index: number, by: number) => thicken(index, thickness(index) + by, `grow-${index}`);
let before: number | null = null;
function drag(index: number, by: number | null) {
  before = by === null ? null : (before ?? thickness(index));
  if (by === null) store.settle();
  else thicken(index, before! + by, `drag-${index}`);
}
type Turn = "section" | "compare" | "parts" | typeof PLAN;
const views = computed(() => [
  { value: "section", label: "Section" },
  { value: "compare", label: "Compare", disabled: !room.value?.floor },
  { value: "parts", label: "Patches and fields" },
  { value: PLAN, label: "Plan" },
]);
const turn = (to: Turn) => (to === PLAN ? showView(PLAN) : (view.value = to));
const pick = (id: string) => store.select({ kind: "room", id });
</script>

<template>
  <section class="floor" aria-label="Floor">
    <header class="bar">
      <label v-if="room">{{ store.job.value?.outdoors ? "Area" : "Room" }} <ChoiceField :model-value="room.id" :options="rooms.map((r) => ({ value: r.id, text: r.name }))" label="Room whose floor is shown" @update:model-value="pick" /></label>
      <ElSegmented :model-value="view" size="small" :options="views" aria-label="View of the floor" @update:model-value="turn($event as Turn)" />
      <ElSegmented v-if="view === 'section' && zones.length > 1 && zone" size="small" :model-value="zone.key" :options="zones.map((z) => ({ value: z.key, label: z.name }))" aria-label="Part of the room" @update:model-value="zoneKey = String($event)" />
    </header>
    <p v-if="!room" class="none">No rooms yet. Draw one at station Rooms.</p>
    <p v-else-if="view !== 'parts' && !zones.length" class="none">{{ room.name }} has no tube. Tick “Floor heated” beside its name, or add a field under “Patches and fields”.</p>
    <template v-else-if="view === 'section'">
      <div v-if="picture" class="body">
        <div class="drawing"><SectionDrawing :picture="picture" :chosen="chosen" @choose="chosen = $event" @drag="drag" @grow="grow" /></div>
        <SectionAnswers :picture="picture" :room-id="room.id" :build-up-id="buildUpId" :is-floor="zone?.shown.zone !== 'field'" />
      </div>
      <div v-else-if="!trouble" class="body"><p class="none">Solving the section…</p></div>
      <p v-if="trouble" class="none" role="alert">The section cannot be drawn: {{ trouble }}.</p>
      <LayerBar v-if="use" :use="use" :build-up-id="buildUpId" :chosen="chosen" @choose="chosen = $event" />
    </template>
    <CompareFloors v-else-if="view === 'compare' && room.floor" :key="room.id" :room-id="room.id" />
    <PatchesAndFields v-else-if="view === 'parts'" :room-id="room.id" />
  </section>
</template>

<style scoped>
.floor { display: flex; flex-direction: column; min-height: 0; min-width: 0; background: var(--sheet); overflow: hidden; }
.bar { display: flex; gap: 6px 14px; align-items: center; flex-wrap: wrap; padding: 5px 10px; border-bottom: 1px solid var(--faint); }
.bar label { display: flex; align-items: center; gap: 6px; }
.bar .choice { width: 180px; }
.body { flex: 1; min-height: 0; display: grid; grid-template-columns: minmax(0, 1fr) 236px; gap: 4px; }
.drawing { min-width: 0; min-height: 0; padding: 4px 0 0 6px; }
.none { padding: 8px 12px; color: var(--soft); }
@media (max-width: 900px) { .body { grid-template-columns: minmax(0, 1fr); overflow: auto; } .floor { overflow: auto; } }
</style>
