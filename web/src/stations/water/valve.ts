import type { Units, ValveSetting } from "../../api/client";
import { figure, show } from "../../units";

/** A circuit with less than this to throttle is the index loop of its manifold, Pa. */
const INDEX_PA = 1;

/** What a crew sets: turns where the manifold's table tells them, else the flow factor. */
export function settingText(valve: ValveSetting | null | undefined, units: Units): string {
  if (!valve) return "open";
  return valve.turns == null ? `${units === "us" ? "Cv" : "Kv"} ${figure("kv", valve.kv_m3_h, units)}` : `${valve.turns.toFixed(1)} turns`;
}

/** What the balancing valve of a circuit closes, and how it is set for that. */
export function valveText(of: { balancing_pa: number; valve?: ValveSetting | null }, units: Units): string {
  if (of.balancing_pa < INDEX_PA) return "index loop: open";
  return of.valve ? `${show("head", of.balancing_pa, units)}, ${settingText(of.valve, units)}` : show("head", of.balancing_pa, units);
}
