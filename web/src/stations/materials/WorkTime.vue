<script setup lang="ts">
/** How long it takes, task by task, and when it is done. */
import { computed } from "vue";
import type { Job, MaterialsDesign } from "../../api/client";
import { purchasing } from "../../job/purchasing";
import { store } from "../../job/store";
import DataTable from "../../kit/DataTable.vue";
import JobField from "../../kit/JobField.vue";
import type { Column } from "../../kit/table";
import { show } from "../../units";
import { GROUPS } from "../../words";
import { useMaterials } from "./counted";

const props = defineProps<{ counted: MaterialsDesign }>();
const { units, job } = store;
const { money, currency } = useMaterials();
const work = computed(() => props.counted.work);
const hours = (s: number) => show("time", s, units.value);
type Task = MaterialsDesign["work"]["tasks"][number];
const columns: Column<Task>[] = [
  { key: "name", head: "Task", value: (t) => t.name },
  { key: "group", head: "Goes with", value: (t) => GROUPS[t.group] },
  { key: "how", head: "Calculated", value: (t) => t.how },
  { key: "time", head: "One person", value: (t) => t.time_s, quantity: "time" },
];
const RATES = [
  ["prepare_s_m2", "Make the floor ready"], ["manifold_s", "A manifold"], ["lay_s_m", "Lay tube"], ["tie_s_m", "Tie tube"], ["below_s_m", "Hang tube from below"], ["loop_s", "A loop connected"],
  ["plate_s", "A plate"], ["panel_s", "A grooved panel"], ["hole_s", "A hole"], ["test_s", "A pressure test"], ["start_loop_s", "A loop started up"], ["circuit_s", "A circuit piped"], ["source_s", "The source"],
] as const;
const setDay = (day: string | null) => store.edit("set the first day", (j: Job) => {
  const labour = purchasing(j, "labour");
  if (day) labour.first_day = day;
  else delete labour.first_day;
});
const told = (day: string) => new Date(`${day}T12:00:00`).toLocaleDateString(units.value === "us" ? "en-US" : "en-GB", { weekday: "long", day: "numeric", month: "long", year: "numeric" });
</script>

<template>
  <div class="work" tabindex="0" role="region" aria-label="Time">
    <p class="answer" role="status"><b>{{ hours(work.time_s) }}</b> of one person, <b>{{ work.days.toFixed(1) }} working days</b> of the crew<template v-if="work.done">: done on <b>{{ told(work.done) }}</b></template><template v-if="work.cost !== null && work.cost !== undefined">; it costs {{ money(work.cost) }}</template>.</p>
    <div class="fields">
      <label>Crew <JobField path="purchasing.labour.crew" label="Crew" /></label>
      <label>Working day <JobField path="purchasing.labour.day_s" label="Working day" /></label>
      <label>First day <ElDatePicker :model-value="job?.purchasing?.labour?.first_day ?? ''" size="small" type="date" value-format="YYYY-MM-DD" format="D MMM YYYY" placeholder="not set" aria-label="First day of work" @update:model-value="setDay($event)" /></label>
      <label>An hour of one person <JobField path="purchasing.labour.hour_price" label="Cost of an hour" empty="no price" /> {{ currency }}</label>
    </div>
    <DataTable :id="(t) => t.name" name="tasks" inline :columns="columns" :rows="work.tasks" :feet="[{ name: 'All', time: hours(work.time_s) }]" empty="Nothing to do yet.">
      <template #cell-name="{ row: t }">{{ t.name }}</template>
    </DataTable>
    <h3>Rates, of one person</h3>
    <div class="rates"><label v-for="[key, name] in RATES" :key="key"><span>{{ name }}</span> <JobField :path="`purchasing.labour.${key}`" :label="name" /></label></div>
  </div>
</template>

<style scoped>
.work { flex: 1; min-height: 0; overflow: auto; padding: 6px 14px; }
.work :deep(.scroll) { overflow: visible; }
.answer { font-size: 15px; margin: 4px 0 8px; }
.fields { display: flex; flex-wrap: wrap; gap: 6px 18px; align-items: center; }
.fields label { display: inline-flex; gap: 6px; align-items: center; }
.fields :deep(.el-date-editor) { width: 150px; }
h3 { margin: 12px 0 4px; }
.rates { display: grid; grid-template-columns: repeat(auto-fill, minmax(250px, 1fr)); gap: 4px 18px; }
.rates label { display: flex; justify-content: space-between; gap: 8px; align-items: center; }
</style>
