import { describe, expect, it } from "vitest";
import type { Point, Underlay } from "../api/client";
import { levelled, matrix, placed, scaled, turned } from "./underlay";
import { useView } from "./view";

const picture: Underlay = { file_id: "f", name: "", width_px: 1000, height_px: 500, at: [1, 2], m_per_px: 0.01, turn_deg: 0, strength: 0.5 };

/** Where a pixel (from the upper left corner, down) lies on the plan. */
function onPlan(u: Underlay, px: number, py: number): Point {
  const view = useView();
  const [a, b, c, d, e, f] = matrix(u, view).slice(7, -1).split(",").map(Number) as [number, number, number, number, number, number];
  return view.toPlan([a * px + c * py + e, b * px + d * py + f]);
}
const near = (p: Point, q: Point) => p.forEach((v, i) => expect(v).toBeCloseTo(q[i]!, 3));

describe("the picture under the sheet", () => {
  it("lies with its lower left corner where it says", () => {
    near(onPlan(picture, 0, 500), [1, 2]);
    near(onPlan(picture, 1000, 0), [11, 7]);
    near(onPlan({ ...picture, turn_deg: 90 }, 1000, 500), [1, 12]);
  });
  it("is scaled about the first of two points", () => {
    const [a, b]: Point[] = [onPlan(picture, 200, 100), onPlan(picture, 600, 400)];
    const u = scaled(picture, a!, b!, 10);
    near(onPlan(u, 200, 100), a!);
    const [p, q] = [onPlan(u, 200, 100), onPlan(u, 600, 400)];
    expect(Math.hypot(q[0] - p[0], q[1] - p[1])).toBeCloseTo(10, 3);
  });
  it("is straightened to the nearer of level and upright", () => {
    for (const [dx, dy] of [[4, 0.3], [-0.2, 3], [3, -0.4]] as const) {
      const a: Point = [2, 3];
      const u = levelled(picture, a, [a[0] + dx, a[1] + dy]);
      // the same two pixels, looked up before and after
      const back = turned(u, a, -(u.turn_deg ?? 0));
      near(back.at as Point, picture.at as Point);
      const slant = (Math.atan2(dy, dx) * 180) / Math.PI + (u.turn_deg ?? 0);
      expect(Math.abs(slant / 90 - Math.round(slant / 90))).toBeLessThan(1e-4);
      expect(Math.abs(u.turn_deg ?? 0)).toBeLessThan(46);
    }
  });
  it("comes into the middle of what is seen", () => {
    const view = useView();
    const u = placed({ id: "f", width_px: 400, height_px: 400 }, "plan", view);
    const [x, y] = onPlan(u, 200, 200);
    near([x, y], [view.view.x, view.view.y]);
    expect(400 * u.m_per_px * view.view.scale).toBeLessThanOrEqual(view.view.height);
  });
});
