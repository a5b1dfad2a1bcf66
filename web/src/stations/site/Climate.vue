<script setup lang="ts">
/** The design day: typed, or from the year of a weather file dropped here. */
import { computed, ref } from "vue";
import { Refused, sendFile, type Job, type Weather } from "../../api/client";
import JobField from "../../kit/JobField.vue";
import { store } from "../../job/store";
import { figure, show } from "../../units";
import YearChart from "./YearChart.vue";
import FilePick from "../../kit/FilePick.vue";

const { job, units } = store;
const site = computed(() => job.value!.site);
const weather = computed(() => site.value.weather ?? null);
const change = (what: (draft: Job) => void) => store.edit("change the climate", what);
const busy = ref(false);
const wrong = ref("");
const over = ref(false);
const found = computed(() => store.design.value?.climate);
const coldGround = computed(() => found.value?.coldest_ground);

async function take(file: File | undefined) {
  over.value = false;
  if (!file) return;
  busy.value = true;
  wrong.value = "";
  try {
    const got = await sendFile<Weather>("/api/weather", file);
    change((j) => {
      j.site.weather = got;
      j.site.outdoor_c = got.p99_6_c;
      j.site.altitude_m = got.altitude_m;
      // the file's own mean counts from now on
      delete j.site.annual_mean_c;
      if (!j.site.place.trim()) j.site.place = got.name;
    });
  } catch (e) {
    wrong.value = e instanceof Refused ? `${file.name} was not taken: ${e.message}.` : "The weather file could not be read: the server does not answer.";
  } finally {
    busy.value = false;
  }
}
/** Degree-days are shown in the unit's own degrees. */
const dd = (v: number) => `${figure("difference", v, units.value).split(".")[0]} ${units.value === "us" ? "°F·d" : "K·d"}`;
</script>

<template>
  <div class="climate" :class="{ over }" @dragover.prevent="over = true" @dragleave="over = false" @drop.prevent="take($event.dataTransfer?.files[0])">
    <dl>
      <dt>Design outdoor temperature</dt>
      <dd>
        <JobField path="site.outdoor_c" label="Design outdoor temperature" />
        <template v-if="weather">
          <ElButton size="small" :class="{ on: site.outdoor_c === weather.p99_6_c }" title="Colder for 0.4 % of the hours of the file's year" @click="change((j) => (j.site.outdoor_c = weather!.p99_6_c))">99.6 %: {{ show("temperature", weather.p99_6_c, units) }}</ElButton>
          <ElButton size="small" :class="{ on: site.outdoor_c === weather.p99_c }" title="Colder for 1 % of the hours of the file's year" @click="change((j) => (j.site.outdoor_c = weather!.p99_c))">99 %: {{ show("temperature", weather.p99_c, units) }}</ElButton>
        </template>
      </dd>
      <dt>Mean of the year</dt><dd><JobField path="site.annual_mean_c" label="Mean outdoor temperature of the year" hint="The ground by ISO 13370 is calculated toward it" :empty="show('temperature', found?.annual_mean_c, units)" /></dd>
      <dt>Ground under the building</dt>
      <dd>
        <JobField path="site.ground_c" label="Ground temperature" />
        <ElButton v-if="coldGround" size="small" :class="{ on: site.ground_c === coldGround.temperature_c }" :title="`The weather file's coldest month at ${show('length', coldGround.depth_m, units)}`" @click="change((j) => (j.site.ground_c = coldGround!.temperature_c))">file: {{ show("temperature", coldGround.temperature_c, units) }}</ElButton>
      </dd>
      <dt>Altitude</dt><dd><JobField path="site.altitude_m" label="Altitude" hint="Thins the air" quantity="tube" /></dd>
      <dt>North on the plan</dt><dd><JobField path="site.north_deg" label="North on the plan" hint="Clockwise from the top of the sheet" /></dd>
      <template v-if="weather">
        <dt>Degree-days</dt><dd><span v-for="d in found?.degree_days" :key="d.base_c" class="dd">{{ dd(d.k_d) }} below {{ show("temperature", d.base_c, units) }}</span></dd>
      </template>
    </dl>
    <YearChart v-if="weather" :weather="weather" :design="site.outdoor_c" :colder="found?.colder_days ?? undefined" />
    <p v-if="weather" class="quiet">
      {{ weather.name }}, {{ weather.source }}.
      <template v-if="weather.bridged_hours">{{ weather.bridged_hours }} missing hours were bridged.</template>
      <a v-if="weather.file_id" :href="`/api/files/${weather.file_id}`" :download="`${weather.name.split(',')[0]}.epw`">The file</a>
      · <ElButton link type="primary" @click="change((j) => (j.site.weather = null))">Take it away</ElButton>
    </p>
    <p>
      <FilePick label="Weather file" accept=".epw,text/csv" @take="take">{{ weather ? "Another weather file" : "Weather file" }}</FilePick>
      <span class="quiet"> {{ busy ? "reading…" : "drop an EPW file here: design temperatures, degree-days and ground come from its hours" }}</span>
    </p>
    <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
  </div>
</template>

<style scoped>
.climate { border: 1px dashed transparent; border-radius: 4px; }
.climate.over { border-color: var(--ember); background: var(--ember-soft); }
dd { display: flex; flex-wrap: wrap; gap: 4px 8px; align-items: center; }
.dd { white-space: nowrap; }
.quiet { color: var(--soft); font-size: 13px; }
.wrong { color: var(--ember); font-weight: 600; max-width: 60ch; }
</style>
