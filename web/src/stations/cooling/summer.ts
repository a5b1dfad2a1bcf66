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
  const usually = store.library.value?.uses?.find((u) => u.use === use)?.summer ?? { people_m2: 0, equipment_w_m2: 0, from_h: 0, to_h: 24 };
  const { people_m2, equipment_w_m2, from_h, to_h } = usually;
  return { people: Math.round(people_m2 * area * 2) / 2, equipment_w: Math.round((equipment_w_m2 * area) / 10) * 10, from_h, to_h };
}

/** Hour of the year, from 0, as a day and a time. */
export const dayOf = (hour: number) => new Date(Date.UTC(2001, 0, 1, hour)).toLocaleDateString("en", { month: "short", day: "numeric", timeZone: "UTC" });
export const clockOf = (hour: number) => `${dayOf(hour)}, ${hour % 24}:00`;
