<script setup lang="ts">
/** What binds the tube of a floor to lines: the squares of a mesh or a studded sheet, or joist bays. */
import { computed } from "vue";
import type { Floor, FloorLattice, Room } from "../../api/client";
import JobField from "../../kit/JobField.vue";
import QuantityField from "../../kit/QuantityField.vue";
import { clean, roomOf } from "../../job/edit";
import { pathOf } from "../../job/paths";
import { store } from "../../job/store";
import { freshLattice } from "../../job/usual";
import { show } from "../../units";
import ChoiceField from "../../kit/ChoiceField.vue";

const props = defineProps<{ room: Room & { floor: Floor } }>();
const { job, units } = store;
const at = computed(() => pathOf(job.value, "rooms", props.room.id));
const KINDS = { none: "anywhere", squares: "mesh or studs", joists: "joist bays" } as const;
function set(label: string, change: (floor: Floor) => void) {
  store.edit(label, (draft) => {
    const floor = roomOf(draft, props.room.id)?.floor;
    if (floor) change(floor);
  });
}
/** Figures changed in the lattice that there is. */
const put = (figures: object) => set("set lattice", (f) => (f.lattice = { ...f.lattice!, ...figures } as FloorLattice));
const choose = (kind: keyof typeof KINDS) => set("choose lattice", (f) => (f.lattice = freshLattice(props.room, kind)));
/** The spacings at which tube can lie in it, where they are not those wanted. */
const fitting = computed(() => {
  const found = store.design.value?.rooms.find((r) => r.id === props.room.id)?.lattice_spacings_m;
  return found && Math.abs(found[0]! - props.room.floor.spacing_core_m) > 1e-6 ? (found as [number, number]) : null;
});
const fit = ([field, perimeter]: [number, number]) => set("fit spacing", (f) => Object.assign(f, { spacing_core_m: clean(field), spacing_edge_m: clean(perimeter) }));
</script>

<template>
  <dt>Tube lies</dt>
  <dd><ChoiceField :model-value="room.floor.lattice?.kind ?? 'none'" :options="KINDS" label="What binds the tube of this floor" @update:model-value="choose" /></dd>
  <template v-if="room.floor.lattice?.kind === 'squares'">
    <dt>Squares of</dt><dd><JobField :path="`${at}.floor.lattice.side_m`" label="Side of a square" /></dd>
    <dt>Lines cross at, across and up the sheet</dt>
    <dd><QuantityField v-for="axis in [0, 1]" :key="axis" :model-value="room.floor.lattice.cross[axis]!" quantity="length" :label="axis ? 'Height of a line on the sheet' : 'Place of a line on the sheet'" :min="-1000" :max="1000" @update:model-value="put({ cross: room.floor.lattice!.kind === 'squares' ? room.floor.lattice!.cross.map((v, k) => (k === axis ? clean($event!) : v)) : [] })" /></dd>
  </template>
  <template v-else-if="room.floor.lattice?.kind === 'joists'">
    <dt>Joists run</dt><dd><ChoiceField :model-value="room.floor.lattice.along" :options="{ x: 'left to right', y: 'up the sheet' }" label="Which way the joists run" @update:model-value="put({ along: $event })" /></dd>
    <dt>Joist to joist</dt><dd><JobField :path="`${at}.floor.lattice.centres_m`" label="Joist to joist" /></dd>
    <dt>Joist width</dt><dd><JobField :path="`${at}.floor.lattice.width_m`" label="Joist width" /></dd>
    <dt>Middle of one joist, {{ room.floor.lattice.along === "y" ? "across" : "up" }} the sheet</dt><dd><QuantityField :model-value="room.floor.lattice.one_m" quantity="length" label="Where the middle of one joist lies" :min="-1000" :max="1000" @update:model-value="put({ one_m: clean($event!) })" /></dd>
  </template>
  <template v-if="fitting">
    <dt>Spacing it gives</dt><dd>{{ show("size", fitting[0], units) }} <ElButton link type="primary" @click="fit(fitting)">Take that spacing</ElButton></dd>
  </template>
</template>
