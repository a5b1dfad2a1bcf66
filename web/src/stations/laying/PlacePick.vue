<script setup lang="ts">
/** Where on the plan a note belongs, and which way its photo looks: by the room's name, or a tap on the plan. */
import { useEventListener } from "@vueuse/core";
import { computed, ref } from "vue";
import type { Point, Spot } from "../../api/client";
import { store } from "../../job/store";
import { labelPlace } from "../../sheet/places";
import ChoiceField, { type Choice } from "../../kit/ChoiceField.vue";
import { around, DIRECTIONS, directionOf, roomAt, turned } from "./place";

const spot = defineModel<Spot | undefined>({ required: true });
const { job, level } = store;
const NOWHERE = "nowhere";
const rooms = computed(() => job.value?.rooms ?? []);
/** Of the room that holds the place, else of the level that is open. */
const levelId = computed(() => spot.value?.level_id ?? level.value?.id);
const here = computed(() => rooms.value.filter((r) => r.level_id === levelId.value));
/** By the place itself: a drag may have taken it into another room, or out of all of them. */
const room = computed(() => (spot.value ? roomAt(rooms.value, spot.value)?.id : NOWHERE));
const choices = computed<Choice<string>[]>(() => [{ value: NOWHERE, text: "nowhere in particular" }, ...rooms.value.map((r) => ({ value: r.id, text: r.name }))]);
const directions: Choice<string>[] = [{ value: NOWHERE, text: "no matter where" }, ...DIRECTIONS.map((d) => ({ value: d.id, text: d.text }))];
const looks = computed(() => (spot.value?.facing_deg == null ? NOWHERE : directionOf(turned(spot.value.facing_deg, north.value))));
/** The plan's y-axis against north: directions are said as people on site say them. */
const north = computed(() => job.value?.site.north_deg ?? 0);

function choose(id: string) {
  const of = rooms.value.find((r) => r.id === id);
  spot.value = of ? { level_id: of.level_id, at: labelPlace(of.outline as Point[]), facing_deg: spot.value?.facing_deg ?? null } : undefined;
}
function look(id: string) {
  const d = DIRECTIONS.find((o) => o.id === id);
  if (spot.value) spot.value = { ...spot.value, facing_deg: d ? turned(d.deg, -north.value) : null };
}

const box = computed(() => around(here.value.flatMap((r) => r.outline as Point[])));
const map = ref<SVGSVGElement>();
const at = (e: PointerEvent): Point => {
  const p = new DOMPoint(e.clientX, e.clientY).matrixTransform(map.value!.getScreenCTM()!.inverse());
  return [p.x, -p.y];
};
/** Put down where the finger comes, and turned towards where it goes. */
let held: Point | undefined;
useEventListener(map, "pointerdown", (e: PointerEvent) => {
  if (!levelId.value) return;
  map.value!.setPointerCapture(e.pointerId);
  held = at(e);
  spot.value = { level_id: levelId.value, at: held, facing_deg: spot.value?.facing_deg ?? null };
});
useEventListener(map, "pointermove", (e: PointerEvent) => {
  if (!held || !spot.value) return;
  const [x, y] = at(e);
  const [dx, dy] = [x - held[0], y - held[1]];
  if (Math.hypot(dx, dy) > box.value.width / 25) spot.value = { ...spot.value, facing_deg: turned((Math.atan2(dy, dx) * 180) / Math.PI, 0) };
});
useEventListener(map, ["pointerup", "pointercancel"], () => (held = undefined));
</script>

<template>
  <div class="place">
    <label>Where <ChoiceField :model-value="room" :options="choices" label="Where it is" empty="beside the rooms" @update:model-value="choose" /></label>
    <label v-if="spot">Photo looks <ChoiceField :model-value="looks" :options="directions" label="Where the photo looks" @update:model-value="look" /></label>
    <svg v-if="spot && here.length" ref="map" :viewBox="`${box.x} ${box.y} ${box.width} ${box.height}`" role="img" aria-label="Plan of the level with the place of the note: tap where it is, drag to where the photo looks">
      <polygon v-for="r in here" :key="r.id" :points="(r.outline as Point[]).map((p) => `${p[0]},${-p[1]}`).join(' ')" />
      <g :transform="`translate(${spot.at[0]} ${-spot.at[1]!}) scale(${box.width / 60})`">
        <path v-if="spot.facing_deg != null" d="M0 0L4.2-1.9L4.2 1.9Z" :transform="`rotate(${-spot.facing_deg})`" />
        <circle r="1" />
      </g>
    </svg>
  </div>
</template>

<style scoped>
.place { display: grid; gap: 6px; }
svg { width: 100%; max-height: 260px; touch-action: none; background: var(--floor-bare); border: 1px solid var(--line); border-radius: 4px; cursor: crosshair; }
polygon { fill: var(--floor); stroke: var(--mass); stroke-width: 0.06; }
circle { fill: var(--ember); stroke: var(--sheet); stroke-width: 0.3; }
path { fill: var(--ember); fill-opacity: 0.45; stroke: var(--ember); stroke-width: 0.2; }
</style>
