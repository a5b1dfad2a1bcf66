/** The window on the sheet: pan, zoom and pinch between metres on the plan and pixels on the screen. */
import { select } from "d3-selection";
import { zoom as zoomBehaviour, zoomIdentity, type D3ZoomEvent, type ZoomBehavior } from "d3-zoom";
import { computed, reactive } from "vue";
import type { Point } from "../api/client";

const SCALES: [number, number] = [3, 600];
const EMPTY_SCALE = 60;
/** Outside walls stand round the rooms, m. */
const WALL_M = 0.35;

/** What the view was of a job when its sheet was last left: another station shows the same part of the plan. */
const remembered = new Map<string, { scale: number; x: number; y: number }>();

export function useView() {
  /** Pixels to the metre; x and y: the middle of the window on the plan, m. */
  const view = reactive({ width: 800, height: 500, scale: EMPTY_SCALE, x: 0, y: 0 });
  const matrix = computed(() => `matrix(${view.scale} 0 0 ${-view.scale} ${view.width / 2 - view.x * view.scale} ${view.height / 2 + view.y * view.scale})`);
  let svg: SVGSVGElement | null = null;
  let behaviour: ZoomBehavior<SVGSVGElement, unknown> | null = null;

  const toScreen = (p: Point): Point => [
    view.width / 2 + (p[0] - view.x) * view.scale,
    view.height / 2 - (p[1] - view.y) * view.scale,
  ];
  const toPlan = (s: Point): Point => [view.x + (s[0] - view.width / 2) / view.scale, view.y - (s[1] - view.height / 2) / view.scale];

  /** Tells the gestures where the view now is. */
  function tell() {
    if (svg && behaviour) behaviour.transform(select(svg), zoomIdentity.translate(view.width / 2 - view.x * view.scale, view.height / 2 + view.y * view.scale).scale(view.scale));
  }
  function put(scale: number, x: number, y: number) {
    Object.assign(view, { scale: Math.min(SCALES[1], Math.max(SCALES[0], scale)), x, y });
    tell();
  }

  /**
   * Wheel, pinch, and the drags that `free` leaves to the sheet. One finger scrolls the page unless it drags something:
   * two fingers move and zoom the sheet.
   */
  function attach(element: SVGSVGElement, free: (e: Event) => boolean) {
    svg = element;
    behaviour = zoomBehaviour<SVGSVGElement, unknown>()
      .scaleExtent(SCALES)
      .filter((e: MouseEvent | TouchEvent | WheelEvent) => (e instanceof WheelEvent ? true : "touches" in e ? e.touches.length > 1 : free(e)))
      .wheelDelta((e: WheelEvent) => -e.deltaY * (e.deltaMode === 1 ? 0.05 : 0.002) * (e.ctrlKey ? 5 : 1))
      .on("zoom", (e: D3ZoomEvent<SVGSVGElement, unknown>) => {
        // told by ourselves: the view is already there
        if (!e.sourceEvent) return;
        const { k, x, y } = e.transform;
        Object.assign(view, { scale: k, x: (view.width / 2 - x) / k, y: (y - view.height / 2) / k });
      });
    select(element).call(behaviour).on("dblclick.zoom", null);
    tell();
  }

  function size(width: number, height: number) {
    Object.assign(view, { width, height });
    tell();
  }

  function fit(points: Point[]) {
    if (points.length === 0) return put(EMPTY_SCALE, 4, 3);
    const xs = points.map((p) => p[0]);
    const ys = points.map((p) => p[1]);
    const [x0, x1, y0, y1] = [Math.min(...xs) - WALL_M, Math.max(...xs) + WALL_M, Math.min(...ys) - WALL_M, Math.max(...ys) + WALL_M];
    const scale = Math.min(200, Math.max(4, Math.min((view.width - 60) / (x1 - x0 || 1), (view.height - 50) / (y1 - y0 || 1))));
    put(scale, (x0 + x1) / 2, (y0 + y1) / 2);
  }

  /** Shows all where a part of what is new lies outside the window. */
  function show(fresh: Point[], all: Point[]) {
    const out = fresh.some((p) => {
      const [x, y] = toScreen(p);
      return x < 0 || y < 0 || x > view.width || y > view.height;
    });
    if (out) fit(all);
  }

  /** Zooms about a point of the screen that stays where it is. */
  function zoom(factor: number, about: Point = [view.width / 2, view.height / 2]) {
    const before = toPlan(about);
    const scale = Math.min(SCALES[1], Math.max(SCALES[0], view.scale * factor));
    put(scale, before[0] - (about[0] - view.width / 2) / scale, before[1] + (about[1] - view.height / 2) / scale);
  }

  function pan(dx: number, dy: number) {
    put(view.scale, view.x - dx / view.scale, view.y + dy / view.scale);
  }

  function remember(of: string) {
    if (of) remembered.set(of, { scale: view.scale, x: view.x, y: view.y });
  }
  function recall(of: string): boolean {
    const was = remembered.get(of);
    if (was) put(was.scale, was.x, was.y);
    return Boolean(was);
  }

  return { view, matrix, toScreen, toPlan, attach, size, fit, show, zoom, pan, remember, recall };
}
export type View = ReturnType<typeof useView>;
