/** The window on the sheet: pan and zoom between metres on the plan and pixels on the screen. */
import { computed, reactive } from "vue";
import type { Point } from "../api/client";

export function useView() {
  const view = reactive({ width: 800, height: 500, scale: 60, x: 0, y: 0 });
  const matrix = computed(() => `matrix(${view.scale} 0 0 ${-view.scale} ${view.width / 2 - view.x * view.scale} ${view.height / 2 + view.y * view.scale})`);

  const toScreen = (p: Point): Point => [
    view.width / 2 + (p[0] - view.x) * view.scale,
    view.height / 2 - (p[1] - view.y) * view.scale,
  ];
  const toPlan = (s: Point): Point => [view.x + (s[0] - view.width / 2) / view.scale, view.y - (s[1] - view.height / 2) / view.scale];

  function fit(points: Point[]) {
    if (points.length === 0) {
      Object.assign(view, { scale: 60, x: 4, y: 3 });
      return;
    }
    const xs = points.map((p) => p[0]);
    const ys = points.map((p) => p[1]);
    const [x0, x1, y0, y1] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
    view.scale = Math.min(200, Math.max(4, Math.min((view.width - 90) / (x1 - x0 || 1), (view.height - 70) / (y1 - y0 || 1))));
    view.x = (x0 + x1) / 2;
    view.y = (y0 + y1) / 2;
  }

  /** Zooms about a point of the screen that stays where it is. */
  function zoom(factor: number, about: Point = [view.width / 2, view.height / 2]) {
    const before = toPlan(about);
    view.scale = Math.min(600, Math.max(3, view.scale * factor));
    const after = toPlan(about);
    view.x += before[0] - after[0];
    view.y += before[1] - after[1];
  }

  function pan(dx: number, dy: number) {
    view.x -= dx / view.scale;
    view.y += dy / view.scale;
  }

  return { view, matrix, toScreen, toPlan, fit, zoom, pan };
}
export type View = ReturnType<typeof useView>;
