<script setup lang="ts">
/** Rooms and what they hold as tables: typing here and dragging on the sheet are the same edit. */
import { computed, ref, type Component } from "vue";
import { store } from "../../job/store";
import AreaLedger from "../snow/AreaLedger.vue";
import BridgesTable from "./tables/BridgesTable.vue";
import EmittersTable from "./tables/EmittersTable.vue";
import KeepOutsTable from "./tables/KeepOutsTable.vue";
import ManifoldsTable from "./tables/ManifoldsTable.vue";
import NotesTable from "./tables/NotesTable.vue";
import OpeningsTable from "./tables/OpeningsTable.vue";
import RoomsTable from "./tables/RoomsTable.vue";

const TABLES = { Rooms: RoomsTable, Openings: OpeningsTable, "Keep-outs": KeepOutsTable, Manifolds: ManifoldsTable, Notes: NotesTable, Emitters: EmittersTable, Bridges: BridgesTable };
/** What an area outdoors has: no walls to see through, no emitters, no bridges. */
const AREAS = { Areas: AreaLedger, Sizes: RoomsTable, Passages: OpeningsTable, "Keep-outs": KeepOutsTable, Manifolds: ManifoldsTable, Notes: NotesTable };
const tables = computed<Record<string, Component>>(() => (store.job.value?.outdoors ? AREAS : TABLES));
const wanted = ref("");
const shown = computed({ get: () => (wanted.value in tables.value ? wanted.value : Object.keys(tables.value)[0]!), set: (name: string) => (wanted.value = name) });
</script>

<template>
  <ElTabs v-model="shown" class="tabs" aria-label="Ledger">
    <ElTabPane v-for="(_, name) in tables" :key="name" :name="name" :label="name" />
  </ElTabs>
  <component :is="tables[shown]" />
</template>
