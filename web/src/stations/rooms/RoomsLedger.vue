<script setup lang="ts">
/** Rooms and what they hold as tables: typing here and dragging on the sheet are the same edit. */
import { ref } from "vue";
import BridgesTable from "./tables/BridgesTable.vue";
import EmittersTable from "./tables/EmittersTable.vue";
import KeepOutsTable from "./tables/KeepOutsTable.vue";
import ManifoldsTable from "./tables/ManifoldsTable.vue";
import NotesTable from "./tables/NotesTable.vue";
import OpeningsTable from "./tables/OpeningsTable.vue";
import RoomsTable from "./tables/RoomsTable.vue";

const TABLES = { Rooms: RoomsTable, Openings: OpeningsTable, "Keep-outs": KeepOutsTable, Manifolds: ManifoldsTable, Notes: NotesTable, Emitters: EmittersTable, Bridges: BridgesTable };
const shown = ref<keyof typeof TABLES>("Rooms");
</script>

<template>
  <ElTabs v-model="shown" class="tabs" aria-label="Ledger">
    <ElTabPane v-for="(_, name) in TABLES" :key="name" :name="name" :label="name" />
  </ElTabs>
  <component :is="TABLES[shown]" />
</template>
