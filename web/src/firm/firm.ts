import type { Firm, JobEntry, Units } from "../api/client";
import { moneyIn } from "../kit/money";
import { show, type Quantity } from "../units";

const count = (n: number, one: string, many = `${one}s`) => (n === 1 ? `1 ${one}` : `${n} ${many}`);

/** What new jobs begin with, in words. */
export function kept(firm: Firm): string[] {
  const out: string[] = [];
  if (firm.rules) out.push(`rules “${firm.rules.name}”`);
  const p = firm.purchasing;
  if (p) {
    const rows = p.prices?.rows?.length ?? 0;
    out.push(rows ? `${count(rows, "price")} in ${p.prices!.currency}` : "no prices");
    if (p.labour?.hour_price) out.push(`an hour of work at ${moneyIn(p.prices?.currency ?? "", p.labour.hour_price).trim()}`);
    if (p.quote) out.push(`offers that hold for ${count(p.quote.valid_days ?? 0, "day")}`);
    const coils = p.coils?.stocked?.length ?? 0;
    if (coils) out.push(count(coils, "stocked coil"));
  }
  const own: [unknown[] | undefined, string][] = [[firm.build_ups, "build-up"], [firm.constructions, "construction"], [firm.materials, "material"], [firm.tubes, "tube"], [firm.coverings, "covering"], [firm.pumps, "pump"], [firm.sources, "source"]];
  for (const [of, name] of own) if (of?.length) out.push(`${count(of.length, `own ${name}`)}`);
  return out;
}

export interface OwnProduct {
  list: "tubes" | "coverings" | "pumps" | "sources";
  at: number;
  kind: string;
  name: string;
  figures: string;
}
/** The firm's own products, each with the figures by which it is told. */
export function ownProducts(firm: Firm, units: Units): OwnProduct[] {
  const s = (q: Quantity, v: number) => show(q, v, units);
  return [
    ...(firm.tubes ?? []).map((t, at): OwnProduct => ({ list: "tubes", at, kind: "Tube", name: t.name, figures: `${s("size", t.od_m)} × ${s("size", t.wall_m)}, loops up to ${s("tube", t.longest_loop_m)}` })),
    ...(firm.coverings ?? []).map((c, at): OwnProduct => ({ list: "coverings", at, kind: "Covering", name: c.name, figures: `${s("size", c.thickness_m)}, ${s("resistance", c.resistance_m2k_w)}, surface up to ${s("temperature", c.surface_limit_c)}` })),
    ...(firm.pumps ?? []).map((p, at): OwnProduct => ({ list: "pumps", at, kind: "Pump", name: p.name, figures: `up to ${s("power", p.most_w)}, ${p.curve[0] ? `${headShown(p.curve[0].head_m, units)} at no flow` : ""}` })),
    ...(firm.sources ?? []).map((h, at): OwnProduct => ({ list: "sources", at, kind: "Source", name: h.name ?? "", figures: `${s("heat", h.least_w)} to ${s("heat", h.most_w)}, up to ${s("temperature", h.most_c)}` })),
  ];
}
/** A pump's head in the trade's metres or feet of water. */
const headShown = (m: number, units: Units) => show("head", m * 9806.65, units);

/** Jobs by name; those of one name by what else tells them apart. */
export function jobChoices(jobs: Pick<JobEntry, "id" | "name" | "customer" | "address" | "changed_at">[]): { value: string; text: string }[] {
  const same = (name: string) => jobs.filter((j) => j.name === name).length > 1;
  const more = (j: (typeof jobs)[number]) => [j.customer, j.address, `changed ${new Date(j.changed_at).toLocaleString("en-GB", { dateStyle: "medium", timeStyle: "short" })}`].filter(Boolean).join(", ");
  return jobs.map((j) => ({ value: j.id, text: same(j.name) ? `${j.name} (${more(j)})` : j.name }));
}

/** As it is kept on a disk: indented, so that people can read it. */
export const fileOf = (firm: Firm) => `${JSON.stringify(firm, null, 2)}\n`;
