/** The area that is looked at, and the ways of running it. */
import { computed, ref } from "vue";
import type { MeltControl, OutdoorDesign } from "../../api/client";
import { store } from "../../job/store";

const wanted = ref("");
export const areas = computed(() => (store.job.value?.rooms ?? []).filter((r) => r.floor));
/** The one chosen here, else the one chosen on the plan, else the first. */
export const areaId = computed({
  get: () => [wanted.value, store.where.selection?.id, areas.value[0]?.id].find((id) => areas.value.some((r) => r.id === id)) ?? "",
  set: (id: string) => (wanted.value = id),
});

/** The ways, each by a line of its own: told apart without colour too. */
export const WAY_LINES: Record<MeltControl, { dash: string; tint: string }> = {
  by_hand: { dash: "2 4", tint: "var(--ink)" },
  sensor: { dash: "none", tint: "var(--ember)" },
  idle: { dash: "8 4", tint: "var(--sound)" },
};

type Area = OutdoorDesign["areas"][number];
/** The parts of a storm's load, as they are told. */
export const PARTS: { key: "sensible" | "melting" | "evaporation" | "convection" | "radiation"; word: string; tint: string }[] = [
  { key: "sensible", word: "warming the snow", tint: "#b9ac97" },
  { key: "melting", word: "melting it", tint: "#5f8fb0" },
  { key: "evaporation", word: "evaporation", tint: "#93b3a4" },
  { key: "convection", word: "wind", tint: "#8a4b2d" },
  { key: "radiation", word: "radiation", tint: "#2f2a25" },
];
/** What of them is heat that leaves: vapour that condenses brings some. */
export const partOf = (a: Area, key: (typeof PARTS)[number]["key"]) => Math.max(0, a.load[key]);
