/** One visit: what has been read so far, by what it is of, and what the server makes of it. */
import { useLocalStorage } from "@vueuse/core";
import { computed, ref } from "vue";
import { answer, api, type Expected, type Measurand, type Ranking, type ReadingOf } from "../../api/client";
import { type Figures, figureKey } from "../../instruments/read";
import { store } from "../../job/store";
import { told } from "../../job/told";
import type { Quantity } from "../../units";

/** How a reading is shown and typed: the app's figures are SI, its kPa are Pa. */
export const SHOWN: Record<Measurand, { name: string; quantity?: Quantity; factor?: number; yes?: [string, string]; least?: number; most?: number }> = {
  outdoor_c: { name: "Outdoors", quantity: "temperature", least: -60, most: 50 },
  hours_on: { name: "On for", quantity: "time", factor: 3600, least: 0, most: 3.6e8 },
  supply_c: { name: "Supply", quantity: "temperature", least: -20, most: 120 },
  return_c: { name: "Return", quantity: "temperature", least: -20, most: 120 },
  target_c: { name: "Wanted by the controller", quantity: "temperature", least: -20, most: 120 },
  flow_l_min: { name: "Flow", quantity: "flow", least: 0, most: 10_000 },
  head_kpa: { name: "Head of the pump", quantity: "head", factor: 1000, least: 0, most: 1e6 },
  room_c: { name: "Air", quantity: "temperature", least: -30, most: 60 },
  thermostat_c: { name: "Thermostat shows", quantity: "temperature", least: -30, most: 60 },
  surface_c: { name: "Floor surface", quantity: "temperature", least: -30, most: 90 },
  pressure_kpa: { name: "Pressure, warm", quantity: "gauge", factor: 1000, least: 0, most: 1.6e6 },
  cold_pressure_kpa: { name: "Pressure, cold", quantity: "gauge", factor: 1000, least: 0, most: 1.6e6 },
  freezing_c: { name: "Freezing point", quantity: "temperature", least: -60, most: 5 },
  gurgles: { name: "Gurgles", yes: ["yes", "no"] },
  actuator_open: { name: "Actuator", yes: ["open", "shut"] },
  valve_open: { name: "Hand valve", yes: ["open", "shut"] },
};

export interface Row {
  subject: string;
  name: string;
  fields: Expected[];
}
export interface Group {
  name: string;
  rows: Row[];
}
const HOUSE = ["outdoor_c", "hours_on", "pressure_kpa", "cold_pressure_kpa", "freezing_c"];

/** What can be read, put together by what it is of: house, rooms, plant, loops. */
export function grouped(expected: Expected[]): Group[] {
  const groups = new Map<string, Map<string, Row>>();
  for (const e of expected) {
    const q = e.quantity;
    const of = HOUSE.includes(q) ? "House" : expected.some((o) => o.subject === e.subject && o.quantity === "room_c") ? "Rooms" : expected.some((o) => o.subject === e.subject && o.quantity === "valve_open") ? "Loops" : "Plant and manifolds";
    const rows = groups.get(of) ?? new Map<string, Row>();
    const row = rows.get(e.subject) ?? { subject: e.subject, name: e.name || "", fields: [] };
    row.fields.push(e);
    rows.set(e.subject, row);
    groups.set(of, rows);
  }
  const order = ["House", "Rooms", "Plant and manifolds", "Loops"];
  return order.filter((name) => groups.has(name)).map((name) => ({ name, rows: [...groups.get(name)!.values()] }));
}

export const keyOf = (quantity: Measurand, subject: string) => `${quantity}/${subject}`;

export function useVisit() {
  // a phone in a cellar is put away and taken out again: what was read stays in this browser until the visit is written down
  const kept = useLocalStorage<Record<string, ReadingOf>>(`fuoco-visit-${store.state.id}`, {});
  /** Some of it was made up: what is written down says so. */
  const simulated = useLocalStorage(`fuoco-visit-simulated-${store.state.id}`, false);
  const read = computed(() => new Map(Object.entries(kept.value)));
  const ranking = ref<Ranking | null>(null);
  const failed = ref("");
  const busy = ref(false);
  let asked: AbortController | undefined;
  const readings = () => Object.values(kept.value);

  async function rank() {
    const job = store.job.value;
    if (!job) return;
    asked?.abort();
    const mine = (asked = new AbortController());
    busy.value = true;
    try {
      const got = await answer(api.POST("/api/service", { body: { job: store.seen(job) as never, readings: readings() }, signal: mine.signal }));
      if (mine !== asked) return;
      ranking.value = got;
      failed.value = "";
    } catch (e) {
      if (mine === asked) failed.value = told(e, "No connection: what was read is kept here until it can be weighed.").replace(/^readings: (.)/, (_, first: string) => first.toUpperCase());
    } finally {
      if (mine === asked) busy.value = false;
    }
  }
  function put(quantity: Measurand, subject: string, value: number | undefined) {
    const next = { ...kept.value };
    if (value === undefined) delete next[keyOf(quantity, subject)];
    else next[keyOf(quantity, subject)] = { quantity, subject, value };
    kept.value = next;
    void rank();
  }
  /** Whatever of an instrument's figures can be weighed here, by id or by what people call it. */
  function putAll(figures: Figures, made: boolean) {
    const next = { ...kept.value };
    for (const { quantity, subject, name } of ranking.value?.expected ?? []) {
      const value = figures.get(figureKey(quantity, subject)) ?? figures.get(figureKey(quantity, name));
      if (value !== undefined) next[keyOf(quantity, subject)] = { quantity, subject, value };
    }
    kept.value = next;
    simulated.value ||= made;
    void rank();
  }
  function clear() {
    kept.value = {};
    simulated.value = false;
    void rank();
  }
  return { read, ranking, failed, busy, put, putAll, rank, clear, readings, simulated };
}
