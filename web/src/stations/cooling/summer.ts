/** The cooling of the job as the server works it out: asked for once for all that show it. */
import { createSharedComposable } from "@vueuse/core";
import { answer, api, type CoolingDesign, type Summer } from "../../api/client";
import { store } from "../../job/store";
import { useTrial } from "../../job/trials";

export const useCooling = createSharedComposable(() =>
  useTrial<CoolingDesign>([() => store.design.value], async () => {
    const job = store.job.value;
    return job?.cooling && job.site.weather?.file_id ? answer(api.POST("/api/cooling", { body: { job: store.seen(job) as never } })) : null;
  }),
);

/** What is usual for a use, by floor area: as the core has it for a room of which the job says nothing. */
export function usualSummer(use: string, area: number): Summer {
  const [people, watts, from_h, to_h] = { living: [0.03, 5, 7, 22], kitchen: [0.03, 5, 7, 22], bedroom: [0.04, 3, 0, 24], work: [0.08, 10, 8, 18], hall: [0.15, 6, 9, 21] }[use] ?? [0, 1, 7, 22];
  return { people: Math.round(people! * area * 2) / 2, equipment_w: Math.round((watts! * area) / 10) * 10, from_h: from_h!, to_h: to_h! };
}
/** Hour of the year, from 0, as a day and a time. */
export const dayOf = (hour: number) => new Date(Date.UTC(2001, 0, 1, hour)).toLocaleDateString("en", { month: "short", day: "numeric", timeZone: "UTC" });
export const clockOf = (hour: number) => `${dayOf(hour)}, ${hour % 24}:00`;
