/** What the one who looks prefers, whatever the job: kept in this browser, never in the job. */
import { useLocalStorage } from "@vueuse/core";
import { computed, type ShallowRef } from "vue";
import type { Job, Units } from "../api/client";

export type UnitsWanted = Units | "job";
export type Theme = "system" | "light" | "dark";

export const viewer = {
  /** Units of the screen; "job" follows the job opened. */
  units: useLocalStorage<UnitsWanted>("fuoco-units", "job"),
  theme: useLocalStorage<Theme>("fuoco-theme", "system"),
};

/** Units that people of this browser's language are used to. */
export const usualUnits = (): Units => (/^en-(US|LR)\b/i.test(globalThis.navigator?.language ?? "") ? "us" : "metric");

export const viewerUnits = (job: ShallowRef<Job | null>) =>
  computed<Units>(() => (viewer.units.value === "metric" || viewer.units.value === "us" ? viewer.units.value : (job.value?.site.units ?? "metric")));
