/** What the pointer does on the sheet: choose and drag, or draw one of the things of a plan. */
import { reactive } from "vue";
import { answer, api, type Job, type OpeningKind, type Point } from "../api/client";
import * as edit from "../job/edit";
import { store } from "../job/store";
import { nearestWall, PARTITION_M, snap, type NearWall } from "./snap";
import type { View } from "./view";

export type Tool = "select" | "room" | "l-room" | "polygon" | "split" | "note" | "saw_cut" | "picture-scale" | "picture-move" | "picture-level" | "window" | "outside_door" | "doorway" | "sleeve" | "keep_out" | "manifold";

export const TOOLS: { tool: Tool; name: string; key: string }[] = [
  { tool: "select", name: "Select", key: "V" },
  { tool: "room", name: "Room", key: "R" },
  { tool: "l-room", name: "L-room", key: "L" },
  { tool: "polygon", name: "Any shape", key: "A" },
  { tool: "split", name: "Split", key: "X" },
  { tool: "window", name: "Window", key: "W" },
  { tool: "outside_door", name: "Outside door", key: "O" },
  { tool: "doorway", name: "Doorway", key: "D" },
  { tool: "sleeve", name: "Sleeve", key: "S" },
  { tool: "keep_out", name: "Keep-out", key: "K" },
  { tool: "manifold", name: "Manifold", key: "M" },
  { tool: "note", name: "Note", key: "N" },
  { tool: "saw_cut", name: "Saw cut", key: "C" },
];

/** A roof window is placed with the window's tool. */
type OpeningTool = Exclude<OpeningKind, "roof_window">;
const OPENINGS: OpeningTool[] = ["window", "outside_door", "doorway", "sleeve"];
export const isOpening = (tool: Tool): tool is OpeningTool => OPENINGS.includes(tool as OpeningTool);

interface Drag {
  kind: string;
  id: string;
  edge?: number;
  corner?: number;
  from: Point;
  screen: Point;
  before: Job;
  moved: boolean;
  /** The job as this drag left it last. */
  left?: Job;
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
    /** Corners of a shape so far, ends of a cut, points of a picture. */
    marks: [] as Point[],
    /** The wall on which a split begins. */
    cut: null as NearWall | null,
    /** Size of the next opening. */
    width: 1.2,
    height: 1.2,
    sill: 0.9,
    /** The next window goes into the roof over that wall. */
    inRoof: false,
    problem: "",
  });
  let drag: Drag | null = null;
  let panning: Point | null = null;

  function choose(tool: Tool) {
    cancel();
    draw.tool = tool;
    if (isOpening(tool)) [draw.width, draw.height, draw.sill] = edit.USUAL_SIZE[tool];
  }

  function cancel() {
    draw.start = draw.end = draw.near = draw.cut = null;
    draw.marks = [];
    draw.problem = "";
    if (drag?.moved) store.undo();
    drag = null;
    panning = null;
  }

  const reach = () => 10 / view.view.scale;

  function snapped(p: Point, without?: string): Point {
    if (!store.levelJob.value) return p;
    const s = snap(store.levelJob.value, p, reach(), store.units.value, without, store.roomsBelow.value.flatMap((r) => r.outline));
    draw.guides = { x: s.x, y: s.y };
    return s.at;
  }

  function down(screen: Point, target: Element, button: number) {
    const job = store.levelJob.value;
    const p = view.toPlan(screen);
    if (!job) return;
    if (button === 1) {
      panning = screen;
      return;
    }
    if (draw.tool === "picture-scale" || draw.tool === "picture-level") {
      // a picture's points are where they are drawn, not on the grid
      if (draw.marks.length < 2) draw.marks.push(p);
      return;
    }
    if (draw.tool === "picture-move") return grabPicture(p, screen);
    if (draw.tool === "polygon") return corner(snapped(p));
    if (draw.tool === "note" || draw.tool === "saw_cut") return markAt(snapped(p));
    if (draw.tool === "split") {
      draw.near = nearestWall(job, p, 3 * reach());
      return cut();
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

  function grabPicture(p: Point, screen: Point) {
    const all = store.job.value;
    if (all && store.level.value?.underlay) drag = { kind: "picture", id: store.level.value.id, from: p, screen, before: all, moved: false };
  }

  /** Another corner of a shape; on the first one, or when it is finished, it becomes a room. */
  function corner(at: Point, rise = 0) {
    const first = draw.marks[0];
    const last = draw.marks.at(-1);
    const closes = first && draw.marks.length > 2 && Math.hypot(at[0] - first[0], at[1] - first[1]) < Math.max(0.02, reach() / 2);
    if (last && rise) draw.marks.push(...edit.arc(last, closes ? first : at, rise));
    if (closes) return close();
    if (!last || Math.hypot(at[0] - last[0], at[1] - last[1]) > 0.02) draw.marks.push(at);
  }

  function close() {
    const outline = draw.marks;
    if (outline.length < 3 || Math.abs(edit.area(outline)) < 0.05) {
      draw.problem = "A room has at least three corners.";
      return;
    }
    addRoom([...outline]);
    choose("select");
  }

  function markAt(at: Point) {
    if (draw.tool === "saw_cut" && draw.marks.length === 0) {
      draw.marks.push(at);
      return;
    }
    const kind = draw.tool === "note" ? "note" : "saw_cut";
    const points = [...draw.marks, at];
    let id = "";
    store.edit(`add ${kind}`, (job) => (id = edit.addMark(job, store.level.value!.id, kind, points)));
    store.select({ kind: "mark", id });
    choose("select");
  }

  /** Where a cut ends: square to the wall it began on where that is nearly meant. */
  function cutEnd(): Point | null {
    const { cut: begin, near } = draw;
    const room = begin && store.job.value?.rooms.find((r) => r.id === begin.room);
    if (!begin || !room) return null;
    const square = edit.opposite(room, begin.wall.edge, begin.along);
    if (!near || near.room !== begin.room || near.wall.edge === begin.wall.edge) return square?.[1] ?? null;
    const at = onWall(near);
    return square && Math.hypot(at[0] - square[1][0], at[1] - square[1][1]) < 2 * reach() ? square[1] : at;
  }
  const onWall = (n: NearWall): Point => [n.wall.a[0] + n.wall.along[0] * n.along, n.wall.a[1] + n.wall.along[1] * n.along];

  function cut() {
    const { near } = draw;
    if (!draw.cut) {
      if (!near) {
        draw.problem = "Click a wall of the room to split.";
        return;
      }
      draw.problem = "";
      const step = store.units.value === "us" ? 0.0254 : 0.05;
      draw.cut = { ...near, along: edit.clean(Math.round(near.along / step) * step) };
      return;
    }
    const [from, to, room_id] = [onWall(draw.cut), cutEnd(), draw.cut.room];
    choose("select");
    if (!to || !store.job.value) return;
    const new_id = edit.newId(store.job.value, "room");
    void store
      .editThere("split room", (job) => answer(api.POST("/api/plan/split", { body: { job, room_id, from, to, wall_m: PARTITION_M, new_id } })), (after) => after as Job)
      .then((done) => store.select({ kind: "room", id: done ? new_id : room_id }));
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
      drag = { kind, id, edge: Number(edge), corner: Number(corner), from: p, screen, before: store.job.value ?? job, moved: false };
  }

  function move(screen: Point, alone = false) {
    const job = store.levelJob.value;
    if (!job) return;
    if (panning) {
      view.pan(screen[0] - panning[0], screen[1] - panning[1]);
      panning = screen;
      return;
    }
    const p = view.toPlan(screen);
    if (drag) return pull(p, screen, alone);
    if (draw.tool.startsWith("picture")) draw.pointer = p;
    else if (draw.tool === "polygon" || draw.tool === "note" || draw.tool === "saw_cut" || draw.tool === "room" || draw.tool === "l-room" || draw.tool === "keep_out") draw.pointer = snapped(p);
    else if (draw.tool !== "select") draw.near = nearestWall(job, p, 3 * reach());
  }

  function pull(p: Point, screen: Point, alone: boolean) {
    const d = drag!;
    if (!d.moved && Math.hypot(screen[0] - d.screen[0], screen[1] - d.screen[1]) < 4) return;
    d.moved = true;
    const to = snapped(p, d.kind === "room" || d.kind === "wall" || d.kind === "corner" ? d.id : undefined);
    const by: Point = [to[0] - snapFrom(d)[0], to[1] - snapFrom(d)[1]];
    const key = `drag-${d.kind}-${d.id}-${d.screen.join()}`;
    const label = `move ${d.kind}`;
    // each step of a drag starts from the job as it was when the drag began, unless something else has changed it since
    if (d.left && store.job.value !== d.left) return up();
    store.edit(
      label,
      (job) => {
        Object.assign(job, structuredClone(d.before));
        const room = job.rooms.find((r) => r.id === d.id);
        const owner = job.rooms.find((r) => r.openings.some((o) => o.id === d.id) || r.keep_outs.some((k) => k.id === d.id));
        const underlay = job.levels.find((l) => l.id === d.id)?.underlay;
        if (d.kind === "picture" && underlay) underlay.at = [edit.clean(underlay.at[0]! + p[0] - d.from[0]), edit.clean(underlay.at[1]! + p[1] - d.from[1])];
        const mark = job.marks.find((m) => m.id === d.id);
        if (d.kind === "mark" && mark) mark.points = mark.points.map((q) => [edit.clean(q[0]! + by[0]), edit.clean(q[1]! + by[1])]);
        if (d.kind === "room") edit.moveRoom(job, d.id, by);
        if (d.kind === "corner") edit.moveCorner(job, d.id, d.corner!, to);
        if (d.kind === "wall" && room) {
          const wall = edit.walls(room)[d.edge!]!;
          edit.moveWall(job, d.id, d.edge!, (to[0] - wall.a[0]) * wall.out[0] + (to[1] - wall.a[1]) * wall.out[1], alone);
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
          const near = nearestWall({ ...job, rooms: job.rooms.filter((r) => r.level_id === store.level.value?.id) }, p, 20 * reach());
          if (near) Object.assign(manifold, { room_id: near.room, edge: near.wall.edge, offset_m: edit.clean(Math.round(near.along * 20) / 20) });
        }
      },
      key,
    );
    d.left = store.job.value!;
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
      const room = store.levelJob.value?.rooms.find((r) => edit.inside(r.outline, [(start[0] + at[0]) / 2, (start[1] + at[1]) / 2]));
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
    store.edit("add room", (job) => (id = edit.addRoom(job, outline, store.level.value?.id)));
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
      const kind: OpeningKind = tool === "window" && draw.inRoof ? "roof_window" : tool;
      const opening = { kind, width_m: draw.width, height_m: draw.height, sill_m: kind === "roof_window" ? 0 : draw.sill };
      store.edit(`add ${tool}`, (job) => (id = edit.addOpening(job, near.room, near.wall.edge, near.along, opening)));
      if (id) store.select({ kind: "opening", id });
    }
    draw.tool = "select";
    draw.near = null;
  }

  return { draw, choose, cancel, down, move, up, finish, addRoom, corner, close, cutEnd, onWall };
}

export type Tools = ReturnType<typeof useTools>;
