/** Tools of the survey: choose and drag, or draw one of the things of a plan. */
import { reactive } from "vue";
import { answer, api, type Job, type OpeningKind, type Point } from "../../api/client";
import * as edit from "../../job/edit";
import { store } from "../../job/store";
import { usualFloor, usualSize } from "../../job/usual";
import { glyphs } from "../../kit/glyphs";
import { pick } from "../../sheet/pick";
import { nearestWall, PARTITION_M, snap, snapStep, type NearWall } from "../../sheet/snap";
import { toolbox, type SheetPointer, type SheetTool, type Toolbox } from "../../sheet/tool";
import type { View } from "../../sheet/view";

/** A roof window is placed with the window's tool. */
export type OpeningTool = Exclude<OpeningKind, "roof_window">;
const OPENINGS: { id: OpeningTool; name: string; key: string; icon: SheetTool["icon"] }[] = [
  { id: "window", name: "Window", key: "W", icon: glyphs.window },
  { id: "outside_door", name: "Outside door", key: "O", icon: glyphs.door },
  { id: "doorway", name: "Doorway", key: "D", icon: glyphs.doorway },
  { id: "sleeve", name: "Sleeve", key: "S", icon: glyphs.sleeve },
];
export const isOpening = (tool: string): tool is OpeningTool => OPENINGS.some((o) => o.id === tool);

/** A drag starts so far from where the pointer went down, pixels. */
const DRAG_FROM_PX = 4;

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

interface Hand {
  tool: string;
  problem: string;
  /** First corner of the rectangle being drawn. */
  start: Point | null;
  /** Second corner, once fixed: an L waits for its notch. */
  end: Point | null;
  pointer: Point | null;
  guides: { x: number | null; y: number | null };
  near: NearWall | null;
  /** Corners of a shape so far, ends of a cut, points of a picture. */
  marks: Point[];
  /** The wall on which a split begins. */
  cut: NearWall | null;
  /** Size of the next opening: that of the last of its kind. */
  width: number;
  height: number;
  sill: number;
  /** The next window goes into the roof over that wall. */
  inRoof: boolean;
}

export interface RoomTools extends Toolbox<Hand> {
  addRoom(outline: Point[]): void;
  /** Another corner of a shape, after a wall that bulges by `rise`, m. */
  corner(at: Point, rise?: number): void;
  close(): void;
  cutEnd(): Point | null;
  onWall(near: NearWall): Point;
}

export function roomTools(view: View): RoomTools {
  const draw = reactive<Hand>({
    tool: "select", problem: "", start: null, end: null, pointer: null, guides: { x: null, y: null }, near: null, marks: [], cut: null,
    width: 1.2, height: 1.2, sill: 0.9, inRoof: false,
  });
  let drag: Drag | null = null;
  /** Sizes of the openings placed last, by kind. */
  const lastSize = new Map<OpeningTool, [number, number, number]>();
  const reach = () => 10 / view.view.scale;

  function snapped(p: Point, without?: string): Point {
    if (!store.levelJob.value) return p;
    const s = snap(store.levelJob.value, p, reach(), store.units.value, without, store.roomsBelow.value.flatMap((r) => r.outline));
    draw.guides = { x: s.x, y: s.y };
    return s.at;
  }
  const near = (p: SheetPointer) => (draw.near = store.levelJob.value && nearestWall(store.levelJob.value, p.at, 3 * reach()));
  const onWall = (n: NearWall): Point => [n.wall.a[0] + n.wall.along[0] * n.along, n.wall.a[1] + n.wall.along[1] * n.along];
  /** Nothing is being drawn any more; whether anything was. */
  function clear(): boolean {
    const was = Boolean(draw.start ?? draw.cut ?? draw.marks[0]);
    Object.assign(draw, { start: null, end: null, near: null, cut: null, pointer: null, marks: [], problem: "", guides: { x: null, y: null } });
    return was;
  }
  const hover = (p: SheetPointer) => void (draw.pointer = snapped(p.at));
  const bigEnough = (a: Point, b: Point, least = 0.1) => Math.abs(a[0] - b[0]) >= least && Math.abs(a[1] - b[1]) >= least;
  const room = (id: string) => store.job.value?.rooms.find((r) => r.id === id);

  function addRoom(outline: Point[]) {
    let id = "";
    store.edit("add room", (job) => (id = edit.addRoom(job, outline, store.level.value?.id, usualFloor())));
    store.select({ kind: "room", id });
  }

  // choose and drag

  function grab(p: SheetPointer): boolean {
    const data = p.target.closest<SVGElement>("[data-kind]")?.dataset;
    const job = store.job.value;
    const chosen = store.where.selection;
    if (!job) return false;
    if (data?.kind === "corner") drag = { kind: "corner", id: data.id!, corner: Number(data.corner), from: p.at, screen: p.screen, before: job, moved: false };
    else {
      const got = pick(p);
      if (!got) return false;
      // the floor of a room that is not chosen yet is chosen, not moved: a slip must not shift a plan
      if (got.kind === "room" && !(chosen?.kind === "room" && chosen.id === got.id)) return true;
      if (got.kind !== "loop") drag = { kind: got.kind, id: got.id, edge: Number(got.data.edge), from: p.at, screen: p.screen, before: job, moved: false };
    }
    return true;
  }

  function pull(d: Drag, p: SheetPointer) {
    if (!d.moved && Math.hypot(p.screen[0] - d.screen[0], p.screen[1] - d.screen[1]) < DRAG_FROM_PX) return;
    if (overtaken(d)) return release();
    d.moved = true;
    const to = snapped(p.at, d.kind === "room" || d.kind === "wall" || d.kind === "corner" ? d.id : undefined);
    const from = snap(d.before, d.from, 0, store.units.value).at;
    const by: Point = [to[0] - from[0], to[1] - from[1]];
    let stopped = "";
    const change = (job: Job) => {
      const owner = job.rooms.find((r) => r.id === d.id || r.openings.some((o) => o.id === d.id) || r.keep_outs.some((k) => k.id === d.id));
      const along = (wall: edit.WallLine, offset: number) => snapStep(offset + (p.at[0] - d.from[0]) * wall.along[0] + (p.at[1] - d.from[1]) * wall.along[1], store.units.value);
      if (d.kind === "mark") {
        const mark = job.marks.find((m) => m.id === d.id)!;
        mark.points = mark.points.map((q) => [edit.clean(q[0]! + by[0]), edit.clean(q[1]! + by[1])]);
      } else if (d.kind === "room") edit.moveRoom(job, d.id, by);
      else if (d.kind === "corner") edit.moveCorner(job, d.id, d.corner!, to);
      else if (d.kind === "wall" && owner) {
        const wall = edit.walls(owner)[d.edge!]!;
        stopped = edit.moveWall(job, d.id, d.edge!, (to[0] - wall.a[0]) * wall.out[0] + (to[1] - wall.a[1]) * wall.out[1], p.alone);
      } else if (d.kind === "keep_out") edit.moveKeepOut(owner!.keep_outs.find((k) => k.id === d.id)!, by);
      else if (d.kind === "opening") {
        const opening = owner!.openings.find((o) => o.id === d.id)!;
        const wall = edit.walls(owner!)[opening.edge]!;
        opening.offset_m = edit.clean(Math.max(0, Math.min(wall.length - opening.width_m, along(wall, opening.offset_m))));
      } else if (d.kind === "manifold") {
        const rooms = job.rooms.filter((r) => r.level_id === store.level.value?.id);
        const wall = nearestWall({ ...job, rooms }, p.at, 20 * reach());
        if (wall) Object.assign(job.manifolds.find((m) => m.id === d.id)!, { room_id: wall.room, edge: wall.wall.edge, offset_m: snapStep(wall.along, store.units.value) });
      }
    };
    // each step of a drag starts from the job as it was when the drag began
    store.edit(`move ${d.kind.replace("_", "-")}`, change, `drag-${d.kind}-${d.id}-${d.screen.join()}`, d.before);
    d.left = store.job.value!;
    draw.problem = stopped;
  }
  /** Something else has changed the job since this drag touched it: it is not put back to what it was. */
  const overtaken = (d: Drag) => store.job.value !== (d.left ?? d.before);
  function release() {
    if (drag?.moved) store.settle();
    drag = null;
    draw.guides = { x: null, y: null };
  }
  /** A drag given up is as if it had never been. */
  function giveUp(): boolean {
    const was = drag;
    release();
    if (was?.moved && store.job.value === was.left) store.undo();
    return Boolean(was);
  }

  const select: SheetTool = {
    id: "select", name: "Select", key: "V", icon: glyphs.select,
    down: grab,
    move: (p) => drag && pull(drag, p),
    up: release,
    cancel: giveUp,
    hint: () => "",
  };

  // rectangles: rooms, L-rooms, keep-outs

  function rectangle(id: string, name: string, key: string, icon: SheetTool["icon"], finish: (from: Point, to: Point) => boolean, hint: () => string): SheetTool {
    return {
      id, name, key, icon, hint,
      down(p) {
        const at = snapped(p.at);
        if (!draw.start) draw.start = at;
        else if (finish(draw.start, at)) box.choose("select");
      },
      move: hover,
      cancel: clear,
    };
  }
  function keepOut(from: Point, to: Point): boolean {
    const middle: Point = [(from[0] + to[0]) / 2, (from[1] + to[1]) / 2];
    const within = store.levelJob.value?.rooms.find((r) => edit.inside(r.outline, middle));
    if (!within) {
      draw.start = null;
      draw.problem = "A keep-out lies in a room: draw it over one.";
      return false;
    }
    if (!bigEnough(from, to, 0.02)) return false;
    let id: string | null = null;
    store.edit("add keep-out", (job) => (id = edit.addKeepOut(job, within.id, from, to)));
    if (id) store.select({ kind: "keep_out", id });
    return true;
  }
  const begin = "Click the first corner, or type the sizes.";
  const rectangles = [
    { ...rectangle("room", "Room", "R", glyphs.room, (from, to) => bigEnough(from, to) && (addRoom(edit.rectangle(from, to)), true), () => (draw.start ? "Click the opposite corner, or type the sizes." : begin)), outdoors: "Area" },
    { ...rectangle("l-room", "L-room", "L", glyphs.lRoom, (from, to) => {
      if (draw.end) return addRoom(edit.lShape(from, draw.end, to)), true;
      if (bigEnough(from, to)) draw.end = to;
      return false;
    }, () => (draw.end ? "Click the notch's inner corner." : draw.start ? "Click the opposite corner, or type the sizes." : begin)), outdoors: "L-area" },
  ];
  const keepOuts = rectangle("keep_out", "Keep-out", "K", glyphs.keepOut, keepOut, () => (draw.start ? "Click its opposite corner." : "Click a corner of the place that gets no tube."));

  // any shape, corner by corner

  function corner(at: Point, rise = 0) {
    const first = draw.marks[0];
    const last = draw.marks.at(-1);
    const closes = first && draw.marks.length > 2 && Math.hypot(at[0] - first[0], at[1] - first[1]) < Math.max(0.02, reach() / 2);
    if (last && rise) draw.marks.push(...edit.arc(last, closes ? first : at, rise));
    if (closes) return close();
    if (!last || Math.hypot(at[0] - last[0], at[1] - last[1]) > 0.02) draw.marks.push(at);
  }
  function close() {
    const outline = [...draw.marks];
    if (outline.length < 3 || Math.abs(edit.area(outline)) < 0.05) {
      draw.problem = "A room has at least three corners.";
      return;
    }
    addRoom(outline);
    box.choose("select");
  }
  const polygon: SheetTool = {
    id: "polygon", name: "Any shape", key: "A", icon: glyphs.shape,
    down: (p) => corner(snapped(p.at)),
    move: hover, cancel: clear, finish: close,
    hint: () => (draw.marks.length ? "Click or type the next corner; the first one closes the room." : "Click the first corner, or type the first wall."),
  };

  // partitions

  /** Where a cut ends: square to the wall it began on where that is nearly meant. */
  function cutEnd(): Point | null {
    const { cut: from, near: to } = draw;
    const cutRoom = from && room(from.room);
    if (!from || !cutRoom) return null;
    const square = edit.opposite(cutRoom, from.wall.edge, from.along);
    if (!to || to.room !== from.room || to.wall.edge === from.wall.edge) return square?.[1] ?? null;
    const at = onWall(to);
    return square && Math.hypot(at[0] - square[1][0], at[1] - square[1][1]) < 2 * reach() ? square[1] : at;
  }
  async function cutRoom() {
    const [from, to, room_id] = [onWall(draw.cut!), cutEnd(), draw.cut!.room];
    if (!to || !store.job.value) {
      draw.problem = "A cut from there does not meet the room's other side.";
      return;
    }
    box.choose("select");
    const new_id = edit.newId(store.job.value, "room");
    const ask = (job: Job) => answer(api.POST("/api/plan/split", { body: { job, room_id, from, to, wall_m: PARTITION_M, new_id } }));
    const done = await store.editThere("split room", ask, (after) => after as Job);
    if (!done) draw.problem = store.state.refusal;
    store.select({ kind: "room", id: done ? new_id : room_id });
  }
  const split: SheetTool = {
    id: "split", name: "Split", key: "X", icon: glyphs.split,
    down(p) {
      const at = near(p);
      if (draw.cut) return void cutRoom();
      if (!at) return void (draw.problem = "Click a wall of the room to split.");
      draw.cut = { ...at, along: snapStep(at.along, store.units.value) };
    },
    move: (p) => void near(p),
    cancel: clear,
    hint: () => (draw.cut ? "Click the wall where it ends." : "Click the wall where the new partition begins."),
  };

  // what stands in a wall or hangs on it

  function onTheWall(id: string, name: string, key: string, icon: SheetTool["icon"], hint: string, place: (at: NearWall) => void): SheetTool {
    return {
      id, name, key, icon,
      down(p) {
        const at = near(p);
        if (at) place(at);
        else draw.problem = "Click on a wall.";
      },
      move: (p) => void near(p),
      cancel: clear,
      hint: () => hint,
    };
  }
  function addOpening(tool: OpeningTool, at: NearWall) {
    const kind: OpeningKind = tool === "window" && draw.inRoof ? "roof_window" : tool;
    const opening = { kind, width_m: draw.width, height_m: draw.height, sill_m: kind === "roof_window" ? 0 : draw.sill };
    lastSize.set(tool, [draw.width, draw.height, draw.sill]);
    let id: string | null = null;
    store.edit(`add ${name(tool)}`, (job) => (id = edit.addOpening(job, at.room, at.wall.edge, at.along, opening)));
    // the tool stays: a house has more than one window
    if (id) store.select({ kind: "opening", id });
  }
  const name = (tool: OpeningTool) => OPENINGS.find((o) => o.id === tool)!.name.toLowerCase();
  // outdoors there are no walls to see through, but ways for tube from area to area
  const underRoof = (id: OpeningTool) => id === "window" || id === "outside_door";
  const openings = OPENINGS.map((o) => ({
    ...onTheWall(o.id, o.name, o.key, o.icon, "Click the wall it is in. Esc when all are in.", (at) => addOpening(o.id, at)),
    outdoors: o.id === "doorway" ? "Passage" : undefined,
    fits: () => !underRoof(o.id) || !store.job.value?.outdoors,
  }));
  const manifold = onTheWall("manifold", "Manifold", "M", glyphs.manifold, "Click the wall on which it hangs.", (at) => {
    let id = "";
    store.edit("hang manifold", (job) => (id = edit.addManifold(job, at.room, at.wall.edge, snapStep(at.along, store.units.value))));
    store.select({ kind: "manifold", id });
    box.choose("select");
  });

  // notes and saw cuts

  function addMark(kind: "note" | "saw_cut", points: Point[]) {
    let id = "";
    store.edit(kind === "note" ? "add note" : "add saw cut", (job) => (id = edit.addMark(job, store.level.value!.id, kind, points)));
    store.select({ kind: "mark", id });
    box.choose("select");
  }
  const note: SheetTool = { id: "note", name: "Note", key: "N", icon: glyphs.note, down: (p) => addMark("note", [snapped(p.at)]), move: hover, cancel: clear, hint: () => "Click the spot it is about." };
  const sawCut: SheetTool = {
    id: "saw_cut", name: "Saw cut", key: "C", icon: glyphs.sawCut,
    down(p) {
      draw.marks.push(snapped(p.at));
      if (draw.marks.length > 1) addMark("saw_cut", [...draw.marks]);
    },
    move: hover, cancel: clear,
    hint: () => (draw.marks.length ? "Click its other end." : "Click one end of the cut."),
  };

  // the picture under the plan: its points are where they are drawn, not on the grid

  const pictureLine = (id: string, title: string, hint: string): SheetTool => ({
    id, name: title, aside: true,
    down: (p) => void (draw.marks.length < 2 && draw.marks.push(p.at)),
    move: (p) => void (draw.pointer = p.at),
    cancel: clear,
    hint: () => (draw.marks.length < 2 ? hint : ""),
  });
  const pictureMove: SheetTool = {
    id: "picture-move", name: "Move the picture", aside: true,
    down(p) {
      const level = store.level.value;
      if (store.job.value && level?.underlay) drag = { kind: "picture", id: level.id, from: p.at, screen: p.screen, before: store.job.value, moved: false };
    },
    move(p) {
      const d = drag;
      if (!d) return;
      if (overtaken(d)) return release();
      d.moved = true;
      store.edit("move the picture", (job) => {
        const under = job.levels.find((l) => l.id === d.id)?.underlay;
        if (under) under.at = [edit.clean(under.at[0]! + p.at[0] - d.from[0]), edit.clean(under.at[1]! + p.at[1] - d.from[1])];
      }, `drag-picture-${d.screen.join()}`, d.before);
      d.left = store.job.value!;
    },
    up: release,
    cancel: giveUp,
    hint: () => "Drag the picture.",
  };

  /** Arrow keys move what is chosen. */
  function nudge(by: Point): boolean {
    const s = store.where.selection;
    if (!s || s.kind === "loop" || s.kind === "job") return false;
    store.edit(`move ${s.kind.replace("_", "-")}`, (draft) => {
      if (s.kind === "room") edit.moveRoom(draft, s.id, by);
      const mark = draft.marks.find((m) => m.id === s.id);
      if (mark) mark.points = mark.points.map((p) => [edit.clean(p[0]! + by[0]), edit.clean(p[1]! + by[1])]);
      for (const r of draft.rooms) {
        const wall = (edge: number) => edit.walls(r)[edge]!;
        if (s.kind === "wall" && r.id === s.id) edit.moveWall(draft, s.id, s.edge!, by[0] * wall(s.edge!).out[0] + by[1] * wall(s.edge!).out[1]);
        const k = r.keep_outs.find((o) => o.id === s.id);
        if (k) edit.moveKeepOut(k, by);
        const hung = [...r.openings, ...draft.manifolds.filter((m) => m.room_id === r.id)].find((o) => o.id === s.id);
        if (hung) hung.offset_m = edit.clean(Math.max(0, hung.offset_m + by[0] * wall(hung.edge).along[0] + by[1] * wall(hung.edge).along[1]));
      }
    }, `nudge-${s.kind}-${s.id}`);
    return true;
  }

  const tools = [
    select, ...rectangles, polygon, split, ...openings, keepOuts, manifold, note, sawCut,
    pictureLine("picture-scale", "Scale", "Click two points of the picture whose distance you know."),
    pictureLine("picture-level", "Straighten", "Click two points of a wall that runs level or upright."),
    pictureMove,
  ];
  function chosen(id: string) {
    clear();
    if (isOpening(id)) [draw.width, draw.height, draw.sill] = lastSize.get(id) ?? usualSize(id);
  }
  const box = toolbox(draw, tools, { nudge, deselect: () => store.select(null), chosen });
  return Object.assign(box, { addRoom, corner, close, cutEnd, onWall });
}
