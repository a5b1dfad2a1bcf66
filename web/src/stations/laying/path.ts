/** Pieces of a drawn line by length along it. */
import type { Point } from "../../api/client";

/** The points of a line between two lengths along it, m; clipped to the line's own ends. */
export function between(path: Point[], from: number, to: number): Point[] {
  const out: Point[] = [];
  let at = 0;
  for (let i = 1; i < path.length; i++) {
    const [a, b] = [path[i - 1]!, path[i]!];
    const d = Math.hypot(b[0] - a[0], b[1] - a[1]);
    const point = (t: number): Point => [a[0] + t * (b[0] - a[0]), a[1] + t * (b[1] - a[1])];
    if (d > 0 && at + d >= from && at <= to) {
      const [start, end] = [Math.max(0, (from - at) / d), Math.min(1, (to - at) / d)];
      if (!out.length) out.push(point(start));
      out.push(point(end));
    }
    at += d;
  }
  return out;
}
