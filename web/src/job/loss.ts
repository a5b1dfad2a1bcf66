/** The arithmetic of a heat loss in words, in the job's units. */
import type { LossPart, RoomDesign, Units } from "../api/client";
import { CAUSES, OTHER_SIDES } from "../words";
import { show } from "../units";
import { construction } from "./constructions";
import { store } from "./store";

export type Cause = keyof typeof CAUSES;

export const otherSide = (p: LossPart) => store.job.value?.rooms.find((r) => r.id === p.subject)?.name ?? OTHER_SIDES[p.other];
export const heatBy = (r: RoomDesign, cause: Cause) => r.loss_parts.filter((p) => p.cause === cause).reduce((sum, p) => sum + p.heat_w, 0);

/** "2.8 m² × 1.15 W/m²K × (20.0 °C − -14.0 °C) = 109 W  Double glass, to outdoors". */
export function arithmetic(r: RoomDesign, p: LossPart, units: Units): string {
  const result = `(${show("temperature", r.temperature_c, units)} − ${show("temperature", p.other_c, units)}) = ${show("heat", p.heat_w, units)}`;
  if (p.measure === "air") return `${show("volume", p.amount, units)} an hour × ${show("volumetric", p.per_kelvin, units)} × ${result}  from ${otherSide(p)}`;
  if (p.measure === "length") return `${show("length", p.amount, units)} × ${show("linear", p.per_kelvin, units)} × ${result}  ${p.subject ?? ""}`;
  const what = [construction(p.construction_id)?.name, `to ${otherSide(p)}`].filter(Boolean).join(", ");
  return `${show("area", p.amount, units)} × ${show("transmittance", p.per_kelvin, units)} × ${result}  ${what}`;
}

/** All parts of a room under their causes, and the sum. */
export function account(r: RoomDesign, units: Units): string {
  if (!r.heated) return `${r.name}: unheated, settles at ${show("temperature", r.temperature_c, units)}`;
  const causes = (Object.keys(CAUSES) as Cause[]).filter((c) => r.loss_parts.some((p) => p.cause === c));
  const lines = causes.flatMap((c) => [`${CAUSES[c]} ${show("heat", heatBy(r, c), units)}`, ...r.loss_parts.filter((p) => p.cause === c).map((p) => `   ${arithmetic(r, p, units)}`)]);
  return [`${r.name} loses ${show("heat", r.heat_loss_w, units)}`, ...lines].join("\n");
}
