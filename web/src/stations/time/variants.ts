/** Ways of running the house beside each other. Kept while the job is open. */
import { reactive } from "vue";
import type { InTime, TimeTrial } from "../../api/client";
import { TIME_CONTROLS } from "../../words";

export type Variant = NonNullable<TimeTrial["variants"]>[number];
export const asked = reactive({
  job: "",
  span: "warm_up" as NonNullable<TimeTrial["span"]>,
  day: null as number | null,
  room: "",
  price: null as number | null,
  delay_s: 0,
  /** Of the sun that comes in. */
  sun_on_floor: 0.4,
  /** Every room on the first chart. */
  all: false,
  variants: [] as Variant[],
});

export const plainVariant = (): Variant => ({ control: "thermostat", differential_k: 0.5, setback_k: 0, setback_from_h: 22, setback_to_h: 5, sun: 1 });
/** What one begins with: thermostats on water of the design day, against water that follows the weather. */
export function begin(job: string) {
  if (asked.job === job) return;
  Object.assign(asked, { job, span: "warm_up", day: null, room: "", price: null, delay_s: 0, sun_on_floor: 0.4, all: false, variants: [plainVariant(), { ...plainVariant(), control: "reset" }] });
}

/** Each by a line of its own: told apart without colour too. */
export const LINES = [
  { dash: "none", tint: "var(--ember)" },
  { dash: "8 4", tint: "var(--ink)" },
  { dash: "2 4", tint: "var(--sound)" },
  { dash: "8 3 2 3", tint: "var(--soft)" },
];

/** What a variant is, in words. */
export function nameOf(v: Variant, of: { buildUp: (id: string) => string; covering: (id: string) => string; kelvin: (k: number) => string }): string {
  const parts = [TIME_CONTROLS[v.control ?? "thermostat"]];
  if (v.setback_k) parts.push(`${of.kelvin(v.setback_k)} cooler ${v.setback_from_h}–${v.setback_to_h} h${v.optimum_start ? ", warm again in time" : ""}`);
  if (v.sun === 0) parts.push("curtains drawn");
  else if (v.sun !== undefined && v.sun < 1) parts.push(`${Math.round(100 * v.sun)} % of the sun`);
  if (v.floor_c) parts.push("floor sensor");
  if (v.build_up_id) parts.push(of.buildUp(v.build_up_id));
  if (v.covering_id) parts.push(`under ${of.covering(v.covering_id)}`);
  if (v.cut_h) parts.push(`no power ${v.cut_h[0]}–${v.cut_h[1]} h`);
  return parts.join(", ");
}

/** After how long a room is warm. */
export const hoursOf = (h: number | null | undefined) => (h === null || h === undefined ? "not in this time" : h < 48 ? `${h.toFixed(1)} h` : `${(h / 24).toFixed(1)} days`);

/** What a floor gives at the height of the sun, and what it gave before it rose that day. */
export function selfLimiting(course: InTime["runs"][number]["course"]) {
  const height = course.reduce((best, p, k) => (p.sun_w > course[best]!.sun_w ? k : best), 0);
  const noon = course[height];
  if (!noon || noon.sun_w < 1) return null;
  let dawn = height;
  while (dawn > 0 && course[dawn]!.sun_w > 1) dawn--;
  return { sun_w: noon.sun_w, noon_w: noon.water_w, dawn_w: course[dawn]!.water_w, shut: noon.supply_c === null || noon.supply_c === undefined, felt_c: Math.max(...course.slice(dawn).map((p) => p.felt_c)) };
}
