/** Ways of running the house beside each other. Kept while the job is open. */
import { reactive } from "vue";
import type { TimeTrial } from "../../api/client";
import { TIME_CONTROLS } from "../../words";

export type Variant = NonNullable<TimeTrial["variants"]>[number];
export const asked = reactive({
  job: "",
  span: "warm_up" as NonNullable<TimeTrial["span"]>,
  day: null as number | null,
  room: "",
  price: null as number | null,
  delay_s: 0,
  /** Every room on the first chart. */
  all: false,
  variants: [] as Variant[],
});

export const plainVariant = (): Variant => ({ control: "thermostat", differential_k: 0.5, setback_k: 0, setback_from_h: 22, setback_to_h: 5 });
/** What one begins with: thermostats on water of the design day, against water that follows the weather. */
export function begin(job: string) {
  if (asked.job === job) return;
  Object.assign(asked, { job, span: "warm_up", day: null, room: "", price: null, delay_s: 0, all: false, variants: [plainVariant(), { ...plainVariant(), control: "reset" }] });
}

/** Each by a line of its own: told apart without colour too. */
export const LINES = [
  { dash: "none", tint: "var(--ember)" },
  { dash: "8 4", tint: "var(--ink)" },
  { dash: "2 4", tint: "var(--sound)" },
  { dash: "8 3 2 3", tint: "var(--soft)" },
];

/** What a variant is, in words. */
export function nameOf(v: Variant, buildUp: (id: string) => string, kelvin: (k: number) => string): string {
  const parts = [TIME_CONTROLS[v.control ?? "thermostat"]];
  if (v.setback_k) parts.push(`${kelvin(v.setback_k)} cooler ${v.setback_from_h}–${v.setback_to_h} h${v.optimum_start ? ", warm again in time" : ""}`);
  if (v.floor_c) parts.push("floor sensor");
  if (v.build_up_id) parts.push(buildUp(v.build_up_id));
  if (v.cut_h) parts.push(`no power ${v.cut_h[0]}–${v.cut_h[1]} h`);
  return parts.join(", ");
}
