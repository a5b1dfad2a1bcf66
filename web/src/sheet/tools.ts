/** What the pointer does on the sheet: choose and drag, or draw one of the things of a plan. */
import { reactive } from "vue";
import type { Job, OpeningKind, Point } from "../api/client";
import * as edit from "../job/edit";
import { store } from "../job/store";
import { nearestWall, snap, type NearWall } from "./snap";
import type { View } from "./view";

export type Tool = "select" | "room" | "l-room" | "window" | "outside_door" | "doorway" | "sleeve" | "keep_out" | "manifold";

export const TOOLS: { tool: Tool; name: string; key: string }[] = [
  { tool: "select", name: "Select", key: "V" },
  { tool: "room", name: "Room", key: "R" },
  { tool: "l-room", name: "L-room", key: "L" },
  { tool: "window", name: "Window", key: "W" },
  { tool: "outside_door", name: "Outside door", key: "O" },
  { tool: "doorway", name: "Doorway", key: "D" },
  { tool: "sleeve", name: "Sleeve", key: "S" },
  { tool: "keep_out", name: "Keep-out", key: "K" },
  { tool: "manifold", name: "Manifold", key: "M" },
];

const OPENINGS: OpeningKind[] = ["window", "outside_door", "doorway", "sleeve"];
export const isOpening = (tool: Tool): tool is OpeningKind => OPENINGS.includes(tool as OpeningKind);

interface Drag {
  kind: string;
  id: string;
  edge?: number;
  corner?: number;
  from: Point;
  screen: Point;
  before: Job;
  moved: boolean;
}

export function useTools(view: View) {
  const draw = reactive({
    tool: "select" as Tool,
    /** First corner of the rectangle being drawn. */
    start: null as Point | null,
    /** Second corner, once fixed: an L waits for its notch. */
    end: null as Point | null,
    pointer: null as Point | null,
    guides: { x: null as number | null, y: null as number | null },
    near: null as NearWall | null,
    /** Size of the next opening. */
    width: 1.2,
    height: 1.2,
    problem: "",
  });
  let drag: Drag | null = null;
  let panning: Point | null = null;

  function choose(tool: Tool) {
    cancel();
    draw.tool = tool;
    if (isOpening(tool)) [draw.width, draw.height] = edit.USUAL_SIZE[tool];
  }

  function cancel() {
    draw.start = draw.end = draw.near = null;
    draw.problem = "";
    if (drag?.moved) store.undo();
    drag = null;
    panning = null;
  }

  const reach = () => 10 / view.view.scale;

  function snapped(p: Point, without?: string): Point {
    if (!store.job.value) return p;
    const s = snap(store.job.value, p, reach(), store.units.value, without);
    draw.guides = { x: s.x, y: s.y };
    return s.at;
  }

  function down(screen: Point, target: Element, button: number) {
    const job = store.job.value;
    const p = view.toPlan(screen);
    if (!job) return;
    if (button === 1) {
      panning = screen;
      return;
    }
    if (draw.tool === "select") return grab(job, p, screen, target);
    if (draw.tool === "room" || draw.tool === "l-room" || draw.tool === "keep_out") {
      const at = snapped(p);
      if (!draw.start) draw.start = at;
      else if (!draw.end && draw.tool === "l-room") {
        if (bigEnough(draw.start, at)) draw.end = at;
      } else finish(at);
      return;
    }
    draw.near = nearestWall(job, p, 3 * reach());
    place();
  }

  function grab(job: Job, p: Point, screen: Point, target: Element) {
    const hit = target.closest<SVGElement>("[data-kind]");
    const { kind, id, edge, corner } = hit?.dataset ?? {};
    if (!kind || !id) {
      panning = screen;
      store.select(null);
      return;
    }
    const chosen = store.state.selection;
    // the floor of a room that is not chosen yet is chosen, not moved: a slip must not shift a plan
    const movable = kind !== "room" || (chosen?.kind === "room" && chosen.id === id);
    if (kind !== "corner") store.select({ kind: kind as "room", id, edge: edge === undefined ? undefined : Number(edge) });
    if (movable && kind !== "loop")
      drag = { kind, id, edge: Number(edge), corner: Number(corner), from: p, screen, before: job, moved: false };
  }

  function move(screen: Point) {
    const job = store.job.value;
    if (!job) return;
    if (panning) {
      view.pan(screen[0] - panning[0], screen[1] - panning[1]);
      panning = screen;
      return;
    }
    const p = view.toPlan(screen);
    if (drag) return pull(p, screen);
    if (draw.tool === "room" || draw.tool === "l-room" || draw.tool === "keep_out") draw.pointer = snapped(p);
    else if (draw.tool !== "select") draw.near = nearestWall(job, p, 3 * reach());
  }

  function pull(p: Point, screen: Point) {
    const d = drag!;
    if (!d.moved && Math.hypot(screen[0] - d.screen[0], screen[1] - d.screen[1]) < 4) return;
    d.moved = true;
    const to = snapped(p, d.kind === "room" || d.kind === "wall" || d.kind === "corner" ? d.id : undefined);
    const by: Point = [to[0] - snapFrom(d)[0], to[1] - snapFrom(d)[1]];
    const key = `drag-${d.kind}-${d.id}-${d.screen.join()}`;
    const label = `move ${d.kind}`;
    // each step of a drag starts from the job as it was when the drag began
    store.edit(
      label,
      (job) => {
        Object.assign(job, structuredClone(d.before));
        const room = job.rooms.find((r) => r.id === d.id);
        const owner = job.rooms.find((r) => r.openings.some((o) => o.id === d.id) || r.keep_outs.some((k) => k.id === d.id));
        if (d.kind === "room") edit.moveRoom(job, d.id, by);
        if (d.kind === "corner") edit.moveCorner(job, d.id, d.corner!, to);
        if (d.kind === "wall" && room) {
          const wall = edit.walls(room)[d.edge!]!;
          edit.moveWall(job, d.id, d.edge!, (to[0] - wall.a[0]) * wall.out[0] + (to[1] - wall.a[1]) * wall.out[1]);
        }
        const keepOut = owner?.keep_outs.find((k) => k.id === d.id);
        if (d.kind === "keep_out" && keepOut) edit.moveKeepOut(keepOut, by);
        const opening = owner?.openings.find((o) => o.id === d.id);
        if (d.kind === "opening" && owner && opening) {
          const wall = edit.walls(owner)[opening.edge]!;
          const along = (p[0] - d.from[0]) * wall.along[0] + (p[1] - d.from[1]) * wall.along[1];
          opening.offset_m = edit.clean(Math.max(0, Math.min(wall.length - opening.width_m, Math.round((opening.offset_m + along) * 20) / 20)));
        }
        const manifold = job.manifolds.find((m) => m.id === d.id);
        if (d.kind === "manifold" && manifold) {
          const near = nearestWall(job, p, 20 * reach());
          if (near) Object.assign(manifold, { room_id: near.room, edge: near.wall.edge, offset_m: edit.clean(Math.round(near.along * 20) / 20) });
        }
      },
      key,
    );
  }

  /** The place on the dragged thing that follows the grid: where it was gripped, snapped. */
  function snapFrom(d: Drag): Point {
    return snap(d.before, d.from, 0, store.units.value).at;
  }

  function up() {
    if (drag?.moved) store.settle();
    drag = null;
    panning = null;
    draw.guides = { x: null, y: null };
  }

  const bigEnough = (a: Point, b: Point, least = 0.1) => Math.abs(a[0] - b[0]) >= least && Math.abs(a[1] - b[1]) >= least;

  /** The rectangle from the first corner to `at`, or the L whose notch is at `at`, becomes a room or a keep-out. */
  function finish(at: Point) {
    const { start, end, tool } = draw;
    if (!start) return;
    if (tool === "keep_out") {
      const room = store.job.value?.rooms.find((r) => inside(r.outline, [(start[0] + at[0]) / 2, (start[1] + at[1]) / 2]));
      if (!room) {
        draw.problem = "A keep-out lies in a room: draw it over one.";
        draw.start = null;
        return;
      }
      if (!bigEnough(start, at, 0.02)) return;
      let id: string | null = null;
      store.edit("add keep-out", (job) => (id = edit.addKeepOut(job, room.id, start, at)));
      if (id) store.select({ kind: "keep_out", id });
    } else {
      const outline = end ? edit.lShape(start, end, at) : edit.rectangle(start, at);
      if (!bigEnough(start, end ?? at)) return;
      addRoom(outline);
    }
    draw.start = draw.end = null;
    draw.tool = "select";
  }

  function addRoom(outline: Point[]) {
    let id = "";
    store.edit("add room", (job) => (id = edit.addRoom(job, outline)));
    store.select({ kind: "room", id });
  }

  /** Puts the opening or manifold of the tool on the wall under the pointer. */
  function place() {
    const { near, tool } = draw;
    if (!near) {
      draw.problem = "Click on a wall.";
      return;
    }
    draw.problem = "";
    let id: string | null = null;
    if (tool === "manifold") {
      store.edit("hang manifold", (job) => (id = edit.addManifold(job, near.room, near.wall.edge, near.along)));
      if (id) store.select({ kind: "manifold", id });
    } else if (isOpening(tool)) {
      const opening = { kind: tool, width_m: draw.width, height_m: draw.height };
      store.edit(`add ${tool}`, (job) => (id = edit.addOpening(job, near.room, near.wall.edge, near.along, opening)));
      if (id) store.select({ kind: "opening", id });
    }
    draw.tool = "select";
    draw.near = null;
  }

  return { draw, choose, cancel, down, move, up, finish, addRoom };
}

function inside(outline: Point[], p: Point): boolean {
  let odd = false;
  outline.forEach((a, i) => {
    const b = outline[(i + 1) % outline.length]!;
    if (a[1] > p[1] !== b[1] > p[1] && p[0] < ((b[0] - a[0]) * (p[1] - a[1])) / (b[1] - a[1]) + a[0]) odd = !odd;
  });
  return odd;
}
export type Tools = ReturnType<typeof useTools>;
