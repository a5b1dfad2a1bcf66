/** Readings of instruments: asked for over HTTP, checked, and brought to the units that their names say. */
import type { Schemas } from "../api/client";

export type InstrumentReading = Schemas["InstrumentReading"];
/** What simulated instruments have to know of where they stand; real ones may leave it aside. */
export interface Ask {
  /** Valves and meters in cold water, as at start-up. */
  water?: "cold";
  /** Valves turned since the meters were last written down, in order, and what the meters showed when the hand stopped. */
  turned?: { loop_id: string; shows_l_min: number }[];
  /** The record that began the test of which the gauge is read. */
  test?: string;
  outdoor_c?: number;
  /** 0: a sound house; any other number picks a fault. */
  house?: number;
}
/** Figures by what was read and of what: "flow_l_min/loop-1". */
export type Figures = Map<string, number>;
export const figureKey = (quantity: string, subject: string) => `${quantity}/${subject}`;

/** Units that readings come in, by the ending of what they are called: factor, then what is added. */
const UNITS: Record<string, Record<string, [number, number]>> = {
  kpa: { kPa: [1, 0], Pa: [0.001, 0], bar: [100, 0], psi: [6.894757, 0] },
  c: { "°C": [1, 0], "°F": [5 / 9, -160 / 9] },
  l_min: { "L/min": [1, 0], "L/h": [1 / 60, 0], gpm: [3.785411784, 0] },
  on: { h: [1, 0], min: [1 / 60, 0] },
};
const MOST = 2000;
/** A reading farther from now than this was not taken now. */
const LATE_MS = 10 * 60_000;
const LONGEST_MS = 10_000;

/** What a record says that was made of it. */
export const SIMULATED = "Read from a simulated instrument: no record of a floor.";

/** Why the instrument was not read, in words. */
export class NotRead extends Error {}

function figure(r: InstrumentReading): number {
  const quantity = String(r.quantity);
  const ending = Object.keys(UNITS).find((e) => quantity.endsWith(`_${e}`));
  if (!ending) return r.value;
  const units = UNITS[ending]!;
  const unit = units[r.unit];
  if (!unit) throw new NotRead(`The instrument answers in "${r.unit}". Fuoco reads ${Object.keys(units).join(", ")}: type this one.`);
  return r.value * unit[0] + unit[1];
}

/** The figures of an answer, and whether they are old. */
export function figures(answer: unknown, now: number): { figures: Figures; old: boolean } {
  const is = (r: unknown): r is InstrumentReading => {
    const o = r as Partial<InstrumentReading> | null;
    return typeof o === "object" && o !== null && typeof o.quantity === "string" && typeof o.unit === "string" && typeof o.value === "number" && Number.isFinite(o.value);
  };
  if (!Array.isArray(answer) || answer.length > MOST || !answer.every(is)) throw new NotRead("The instrument answers with something that is no list of readings.");
  if (!answer.length) throw new NotRead("The instrument answers, but shows nothing.");
  const old = answer.some((r) => Math.abs(Date.parse(r.time) - now) > LATE_MS);
  return { figures: new Map(answer.map((r) => [figureKey(String(r.quantity), r.subject ?? ""), figure(r)])), old };
}

/** The question to an instrument, as the end of its address. */
export function question(ask: Ask): string {
  const q = new URLSearchParams();
  for (const key of ["water", "test", "outdoor_c", "house"] as const) if (ask[key] !== undefined) q.set(key, String(ask[key]));
  for (const t of ask.turned ?? []) q.append("turned", `${t.loop_id}~${t.shows_l_min}`);
  const text = q.toString();
  return text ? `?${text}` : "";
}

/** Reads an instrument; [`NotRead`] says why not. */
export async function read(url: string, ask: Ask): Promise<{ figures: Figures; old: boolean }> {
  let response: Response;
  try {
    response = await fetch(`${url}/readings${question(ask)}`, { credentials: url.startsWith("/") ? "same-origin" : "omit", signal: AbortSignal.timeout(LONGEST_MS) });
  } catch {
    throw new NotRead("The instrument does not answer. Is it on, and in the same network?");
  }
  const body: unknown = await response.json().catch(() => null);
  if (!response.ok) throw new NotRead((body as { detail?: string } | null)?.detail ?? `The instrument answers ${response.status}.`);
  return figures(body, Date.now());
}
