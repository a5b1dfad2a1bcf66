/** What can be done about a finding of the plant with one edit. Whether it helps, the design says that follows. */
import type { Design, Job } from "../api/client";
import { show } from "../units";

export interface PlantRemedy {
  /** On its button. */
  words: string;
  /** What is undone. */
  label: string;
  edit: (job: Job) => void;
}

export function plantRemedies(code: string, job: Job, design: Design): PlantRemedy[] {
  const plant = job.plant;
  if (!plant) return [];
  switch (code) {
    case "plant.order":
      return [{ words: "Hottest first", label: "put the hottest first", edit: (j) => (j.plant!.order = []) }];
    case "plant.starved":
      return plant.arrangement === "direct" ? [{ words: "Decouple with tees", label: "decouple with tees", edit: (j) => (j.plant!.arrangement = "tees_in_series") }] : [];
    case "plant.cycling": {
      const litres = Math.ceil(design.plant?.size.buffer_l ?? 0);
      // two sources, or water kept apart, are no arrangement to give up for a buffer
      const stays = plant.arrangement === "two_sources" || plant.arrangement === "exchanger";
      const arrangement = plant.arrangement === "buffer_four_pipe" ? plant.arrangement : "buffer_two_pipe";
      const edit = (j: Job) => Object.assign(j.plant!, { buffer_l: litres, arrangement });
      return litres > 0 && !stays ? [{ words: `A buffer of ${show("content", litres, job.site.units)}`, label: "add a buffer", edit }] : [];
    }
    case "plant.emitters_gone": {
      const there = new Set(job.rooms.flatMap((r) => r.emitters ?? []).map((e) => e.id));
      const edit = (j: Job) => {
        for (const u of j.plant!.users ?? []) if (u.takes.kind === "emitters") u.takes.emitter_ids = u.takes.emitter_ids.filter((id) => there.has(id));
      };
      return [{ words: "Take them off", label: "take lost emitters off", edit }];
    }
    default:
      return [];
  }
}
