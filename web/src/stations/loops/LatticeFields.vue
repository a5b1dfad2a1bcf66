<script setup lang="ts">
/** What binds the tube of a floor to lines: the squares of a mesh or a studded sheet, or joist bays. */
import type { Floor, FloorLattice, Room } from "../../api/client";
import QuantityField from "../../kit/QuantityField.vue";
import { clean, roomOf } from "../../job/edit";
import { freshLattice, latticeSpacing } from "../../job/floors";
import { store } from "../../job/store";
import { show } from "../../units";
import ChoiceField from "../../kit/ChoiceField.vue";

const props = defineProps<{ room: Room & { floor: Floor } }>();
const { units } = store;
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
const fits = (spacing: number) => set("fit spacing", (f) => Object.assign(f, { spacing_core_m: spacing, spacing_edge_m: Math.min(spacing, latticeSpacing(f.lattice!, f.spacing_edge_m)) }));
</script>

<template>
  <dt>Tube lies</dt>
  <dd><ChoiceField :model-value="room.floor.lattice?.kind ?? 'none'" :options="KINDS" label="What binds the tube of this floor" @update:model-value="choose" /></dd>
  <template v-if="room.floor.lattice?.kind === 'squares'">
    <dt>Squares of</dt><dd><QuantityField :model-value="room.floor.lattice.side_m" quantity="size" label="Side of a square" :min="0.02" :max="0.4" @update:model-value="put({ side_m: $event! })" /></dd>
    <dt>Lines cross at, across and up the sheet</dt>
    <dd><QuantityField v-for="axis in [0, 1]" :key="axis" :model-value="room.floor.lattice.cross[axis]!" quantity="length" :label="axis ? 'Height of a line on the sheet' : 'Place of a line on the sheet'" :min="-1000" :max="1000" @update:model-value="put({ cross: room.floor.lattice!.kind === 'squares' ? room.floor.lattice!.cross.map((v, k) => (k === axis ? clean($event!) : v)) : [] })" /></dd>
  </template>
  <template v-else-if="room.floor.lattice?.kind === 'joists'">
    <dt>Joists run</dt><dd><ChoiceField :model-value="room.floor.lattice.along" :options="{ x: 'left to right', y: 'up the sheet' }" label="Which way the joists run" @update:model-value="put({ along: $event })" /></dd>
    <dt>Joist to joist</dt><dd><QuantityField :model-value="room.floor.lattice.centres_m" quantity="size" label="Joist to joist" :min="0.2" :max="1.5" @update:model-value="put({ centres_m: $event! })" /></dd>
    <dt>Joist width</dt><dd><QuantityField :model-value="room.floor.lattice.width_m" quantity="size" label="Joist width" :min="0.02" :max="0.2" @update:model-value="put({ width_m: $event! })" /></dd>
    <dt>Middle of one joist, {{ room.floor.lattice.along === "y" ? "across" : "up" }} the sheet</dt><dd><QuantityField :model-value="room.floor.lattice.one_m" quantity="length" label="Where the middle of one joist lies" :min="-1000" :max="1000" @update:model-value="put({ one_m: clean($event!) })" /></dd>
  </template>
  <template v-if="room.floor.lattice && Math.abs(latticeSpacing(room.floor.lattice, room.floor.spacing_core_m) - room.floor.spacing_core_m) > 1e-6">
    <dt>Spacing it gives</dt><dd>{{ show("size", latticeSpacing(room.floor.lattice, room.floor.spacing_core_m), units) }} <ElButton link type="primary" @click="fits(latticeSpacing(room.floor.lattice!, room.floor.spacing_core_m))">Take that spacing</ElButton></dd>
  </template>
</template>
