/** Where labels stand on a plan. */
import type { Point } from "../api/client";

/** The middle of the widest level strip of an outline: inside also for an L. */
export function labelPlace(outline: Point[]): Point {
  const ys = [...new Set(outline.map((p) => p[1]))].sort((a, b) => a - b);
  let best: Point = outline[0]!;
  let most = 0;
  for (let i = 1; i < ys.length; i++) {
    const y = (ys[i]! + ys[i - 1]!) / 2;
    const xs = outline
      .flatMap((a, k) => {
        const b = outline[(k + 1) % outline.length]!;
        return a[1] > y !== b[1] > y ? [a[0] + ((b[0] - a[0]) * (y - a[1])) / (b[1] - a[1])] : [];
      })
      .sort((a, b) => a - b);
    for (let k = 0; k + 1 < xs.length; k += 2) {
      const size = (xs[k + 1]! - xs[k]!) * (ys[i]! - ys[i - 1]!);
      if (size > most) [most, best] = [size, [(xs[k]! + xs[k + 1]!) / 2, y]];
    }
  }
  return best;
}

/** Breadth of an outline, m. */
export const breadth = (outline: Point[]): number => Math.max(...outline.map((p) => p[0])) - Math.min(...outline.map((p) => p[0]));
/** From this breadth on, pixels, a room has lines under its name. */
export const LINES_FROM_PX = 90;
