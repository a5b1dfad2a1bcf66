import type { Firm } from "../api/client";

const count = (n: number, one: string, many = `${one}s`) => (n === 1 ? `1 ${one}` : `${n} ${many}`);

/** What new jobs begin with, in words. */
export function kept(firm: Firm): string[] {
  const out: string[] = [];
  if (firm.rules) out.push(`rules “${firm.rules.name}”`);
  const p = firm.purchasing;
  if (p) {
    const rows = p.prices?.rows?.length ?? 0;
    out.push(rows ? `${count(rows, "price")} in ${p.prices!.currency}` : "no prices");
    if (p.labour?.hour_price) out.push(`an hour of work at ${p.labour.hour_price.toFixed(2)} ${p.prices?.currency ?? ""}`.trim());
    if (p.quote) out.push(`offers that hold for ${count(p.quote.valid_days ?? 0, "day")}`);
    const coils = p.coils?.stocked?.length ?? 0;
    if (coils) out.push(count(coils, "stocked coil"));
  }
  const own: [unknown[] | undefined, string][] = [[firm.build_ups, "build-up"], [firm.constructions, "construction"], [firm.materials, "material"]];
  for (const [of, name] of own) if (of?.length) out.push(`${count(of.length, `own ${name}`)}`);
  return out;
}

/** As it is kept on a disk: indented, so that people can read it. */
export const fileOf = (firm: Firm) => `${JSON.stringify(firm, null, 2)}\n`;
