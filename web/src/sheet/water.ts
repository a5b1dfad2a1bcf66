/** Colours of water by temperature: one ramp, cool violet-blue to ember, even in lightness; the same as in print. */
import ramp from "../../../crates/documents/data/water_ramp.json";
import type { LoopDesign, Point } from "../api/client";

const RAMP = ramp as number[][];
const STEPS = 12;

export function waterColour(x: number): string {
  const t = Math.min(1, Math.max(0, x)) * (RAMP.length - 1);
  const i = Math.min(Math.floor(t), RAMP.length - 2);
  const [a, b] = [RAMP[i]!, RAMP[i + 1]!];
  return `rgb(${[0, 1, 2].map((k) => Math.round(a[k]! + (b[k]! - a[k]!) * (t - i))).join(" ")})`;
}

/** The same on the screen: lighter in the dark, where the cool end would sink into the ground. */
export const onScreen = (colour: string): string => `color-mix(in oklab, ${colour} var(--ramp-kept), #fff)`;

export interface Stretch {
  points: string;
  colour: string;
  /** Second half of the loop: drawn with a broken edge. */
  back: boolean;
}

/** A loop cut into stretches of one colour. */
export function stretches(loop: LoopDesign, cool: number, hot: number): Stretch[] {
  const path = loop.path as Point[];
  const length: number[] = [0];
  for (let i = 1; i < path.length; i++)
    length.push(length[i - 1]! + Math.hypot(path[i]![0] - path[i - 1]![0], path[i]![1] - path[i - 1]![1]));
  const half = length[length.length - 1]! / 2;
  const step = (i: number) => (hot > cool ? Math.min(STEPS - 1, Math.floor(((loop.path_c[i]! - cool) / (hot - cool)) * STEPS)) : STEPS - 1);
  const key = (i: number) => step(i) * 2 + (length[i]! > half ? 1 : 0);
  const out: Stretch[] = [];
  let from = 0;
  for (let i = 1; i <= path.length; i++) {
    if (i < path.length && key(i) === key(from)) continue;
    const end = Math.min(i + 1, path.length);
    out.push({
      points: path.slice(from, end).map((p) => `${p[0]},${p[1]}`).join(" "),
      colour: waterColour((step(from) + 0.5) / STEPS),
      back: length[from]! > half,
    });
    from = i;
  }
  return out;
}

/** Places for arrows along a loop: position and heading in degrees, every few metres on straights. */
export function arrows(loop: LoopDesign, every = 7): { at: Point; heading: number }[] {
  const path = loop.path as Point[];
  const out: { at: Point; heading: number }[] = [];
  let along = 0;
  let next = every / 2;
  for (let i = 1; i < path.length; i++) {
    const [a, b] = [path[i - 1]!, path[i]!];
    const l = Math.hypot(b[0] - a[0], b[1] - a[1]);
    along += l;
    if (along >= next && l > 0.4) {
      out.push({ at: [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2], heading: (Math.atan2(b[1] - a[1], b[0] - a[0]) * 180) / Math.PI });
      next = along + every;
    }
  }
  return out;
}

/** Coolest and hottest water of a design. */
export function waterRange(loops: LoopDesign[]): [number, number] {
  let [cool, hot] = [Infinity, -Infinity];
  for (const l of loops) {
    cool = Math.min(cool, l.return_c);
    hot = Math.max(hot, l.supply_c);
  }
  return loops.length ? [cool, hot] : [20, 40];
}

/** Where each loop's tag stands: on one of its longest straights, as far from the other tags as may be. */
export function tagPlaces(loops: LoopDesign[]): { id: string; tag: string; at: Point }[] {
  const out: { id: string; tag: string; at: Point }[] = [];
  for (const l of loops) {
    const path = l.path as Point[];
    const straights: { length: number; at: Point }[] = [];
    for (let i = 1; i < path.length; i++) {
      const [a, b] = [path[i - 1]!, path[i]!];
      const length = Math.hypot(b[0] - a[0], b[1] - a[1]);
      if (length > 0.3) for (const x of [0.5, 0.3, 0.7]) straights.push({ length, at: [a[0] + (b[0] - a[0]) * x, a[1] + (b[1] - a[1]) * x] });
    }
    straights.sort((a, b) => b.length - a.length);
    const free = (at: Point) => Math.min(3, ...out.map((o) => Math.hypot(o.at[0] - at[0], o.at[1] - at[1])));
    const mean: Point = [0, 0];
    for (const s of straights) for (const k of [0, 1] as const) mean[k] += s.at[k] / straights.length;
    // among the long ones the one nearest to the middle of the loop that is clear of other tags
    const score = (at: Point) => 2 * free(at) - Math.hypot(at[0] - mean[0], at[1] - mean[1]);
    const best = straights.slice(0, 36).reduce<Point>((p, s) => (score(s.at) > score(p) ? s.at : p), straights[0]?.at ?? path[0] ?? [0, 0]);
    out.push({ id: l.id, tag: l.tag, at: best });
  }
  return out;
}
