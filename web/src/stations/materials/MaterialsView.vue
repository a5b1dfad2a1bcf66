<script setup lang="ts">
/** The lists: take-off, coils, drilling, work, quote. */
import { ref } from "vue";
import { useStationView } from "../view";
import CoilPlan from "./CoilPlan.vue";
import { useMaterials } from "./counted";
import DrillingList from "./DrillingList.vue";
import QuotePage from "./QuotePage.vue";
import TakeOff from "./TakeOff.vue";
import WorkTime from "./WorkTime.vue";

const { answer: counted, trouble, old } = useMaterials();
const { show: showView } = useStationView();
type View = "takeoff" | "coils" | "drilling" | "work" | "quote";
const view = ref<View>("takeoff");
const views: { value: View; label: string }[] = [
  { value: "takeoff", label: "Take-off" },
  { value: "coils", label: "Coils" },
  { value: "drilling", label: "Joists and saw cuts" },
  { value: "work", label: "Time" },
  { value: "quote", label: "Quote" },
];
</script>

<template>
  <section class="materials" aria-label="Materials">
    <header class="bar">
      <ElSegmented v-model="view" size="small" :options="views" aria-label="View of the materials" />
      <ElButton v-if="counted?.panels.length || counted?.plates.length || counted?.joists.length || counted?.saw_cuts.length" size="small" class="plan" @click="showView('plan')">Show on the plan</ElButton>
    </header>
    <p v-if="trouble" class="trouble" role="alert">Materials are not counted: {{ trouble }}</p>
    <p v-else-if="!counted" class="quiet">Counting…</p>
    <div v-if="counted" class="body" :class="{ old }">
      <TakeOff v-if="view === 'takeoff'" :counted="counted" />
      <CoilPlan v-else-if="view === 'coils'" :counted="counted" />
      <DrillingList v-else-if="view === 'drilling'" :counted="counted" />
      <WorkTime v-else-if="view === 'work'" :counted="counted" />
      <QuotePage v-else :counted="counted" />
    </div>
  </section>
</template>

<style scoped>
.materials { display: flex; flex-direction: column; min-height: 0; min-width: 0; background: var(--sheet); overflow: hidden; }
.bar { display: flex; gap: 6px 14px; align-items: center; flex-wrap: wrap; padding: 5px 10px; border-bottom: 1px solid var(--faint); }
.bar .plan { margin-left: auto; }
.body { flex: 1; min-height: 0; display: flex; flex-direction: column; position: relative; }
.trouble { color: var(--ember); margin: 0; padding: 4px 14px; }
.quiet { color: var(--soft); padding: 4px 14px; }
</style>
