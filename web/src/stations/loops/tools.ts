/** Tools of the loops: choose, drag a run or a corner, draw a loop, part a room's floor. */
import { reactive, watch } from "vue";
import { answer, api, type Grip, type Job, type Point } from "../../api/client";
import { clean, inside, walls } from "../../job/edit";
import * as loops from "../../job/loops";
import { store } from "../../job/store";
import { glyphs } from "../../kit/glyphs";
import { pick } from "../../sheet/pick";
import { nearestWall } from "../../sheet/snap";
import { toolbox, type SheetPointer, type SheetTool, type Toolbox } from "../../sheet/tool";
import type { MapOf } from "../../sheet/ramp";
import type { View } from "../../sheet/view";
import { useFloorMap } from "./floorMap";

interface Drag {
  id: string;
  grip: Grip;
  from: Point;
  screen: Point;
  /** The job with the loop locked, before anything moved: none until its design is there. */
  base: Job | null;
  key: string;
  moved: boolean;
  /** Corners of the loop as the drag left them last: where they are others, something else has moved the loop. */
  left: Point[];
}
type Held = { drag: Drag; to: Point; alone: boolean };

interface Hand {
  tool: string;
  problem: string;
  /** Corners of a loop being drawn, or the first end of a split. */
  marks: Point[];
  pointer: Point | null;
  /** Manifold at which a drawn loop began, room whose floor is split. */
  from: string;
  /** Which run of the chosen loop the keys move. */
  run: number;
  busy: boolean;
  /** The picture on the floor. */
  picture: MapOf | "none";
}
export interface LoopTools extends Toolbox<Hand> {
  map: ReturnType<typeof useFloorMap>;
  finish(end?: Point): void;
}

/** A drag starts so far from where the pointer went down, pixels. */
const DRAG_FROM_PX = 4;

export function loopTools(view: View): LoopTools {
  const hand = reactive<Hand>({
    tool: "select",
    problem: "",
    marks: [],
    pointer: null,
    from: "",
    run: -1,
    busy: false,
    picture: "none",
  });
  let drag: Drag | null = null;
  let split: { room: string; index: number; end: 0 | 1; key: string; moved: boolean } | null = null;
  let waiting: Held | null = null;
  /** Steps by keys that came while one is under way, together; none when none is. */
  let nudged: Point | null = null;
  /** Counts drags given up: their answers under way are not taken. */
  let givenUp = 0;

  const reach = () => 12 / view.view.scale;
  const level = () => store.levelJob.value;
  const chosen = () => (store.where.selection?.kind === "loop" ? store.design.value?.loops.find((l) => l.id === store.where.selection!.id) : undefined);

  /** Nothing is being dragged or drawn any more; whether anything was. */
  function cancel(): boolean {
    const was = Boolean(drag ?? split ?? hand.marks[0]);
    hand.marks = [];
    hand.from = "";
    hand.problem = "";
    // a drag given up is as if it had never been
    if (drag?.base || split?.moved) store.undo();
    givenUp++;
    waiting = null;
    drag = null;
    split = null;
    return was;
  }

  function manifoldNear(p: Point): string | null {
    let best: string | null = null;
    let least = Math.max(1.2 * reach(), 0.6);
    for (const m of store.levelDesign.value?.manifolds ?? []) {
      if (!m.position) continue;
      const d = Math.hypot(m.position[0]! - p[0], m.position[1]! - p[1]);
      if (d < least) [best, least] = [m.id, d];
    }
    return best;
  }

  /** The foot of a point on the wall of a manifold. */
  function onManifold(id: string, p: Point): Point {
    const m = store.levelDesign.value?.manifolds.find((x) => x.id === id);
    if (!m?.position || !m.inward) return p;
    const [x, y] = m.position as Point;
    const [ix, iy] = m.inward as Point;
    const along = (p[0] - x) * iy - (p[1] - y) * ix;
    return [clean(x + iy * along), clean(y - ix * along)];
  }

  function roomAt(p: Point) {
    return level()?.rooms.find((r) => inside(r.outline, p));
  }

  function snapped(p: Point, alone: boolean): Point {
    const room = roomAt(p);
    const before = hand.marks.at(-1);
    if (alone || !room) return [clean(p[0]), clean(p[1])];
    const xs = room.outline.map((q) => q[0]);
    const ys = room.outline.map((q) => q[1]);
    return loops.onLattice(p, [Math.min(...xs), Math.min(...ys)], store.job.value!.rules.wall_clearance_m, room.floor?.spacing_core_m ?? 0.2, before, reach());
  }

  function down(q: SheetPointer): boolean {
    const data = q.target.closest<SVGElement>("[data-kind]")?.dataset ?? {};
    if (data.kind === "split-end") {
      split = { room: data.id!, index: Number(data.index), end: Number(data.end) as 0 | 1, key: `split-${data.id}-${data.index}-${q.screen.join()}`, moved: false };
      return true;
    }
    const l = chosen();
    if (l && data.kind === "loop-corner") return grab(l.id, { part: "corner", index: Number(data.index) }, q.at, q.screen);
    if (data.kind === "loop" && l && data.id === l.id) {
      const run = loops.nearestRun(l.corners as Point[], q.at, 2 * reach());
      if (run) {
        hand.run = run.index;
        return grab(l.id, { part: "run", index: run.index }, q.at, q.screen);
      }
    }
    hand.run = -1;
    return pick(q) !== null;
  }

  function grab(id: string, grip: Grip, from: Point, screen: Point): boolean {
    drag = { id, grip, from, screen, base: null, key: `shape-${id}-${screen.join()}`, moved: false, left: [] };
    return true;
  }

  /**
   * Before a loop is shaped it and the others of its manifold are locked, so that nothing else moves with it; as they lie
   * in the design of the job as it stands, for which it waits. Returns the loop's id from then on, empty without one.
   */
  async function hold(id: string, key: string): Promise<string> {
    const port = (l?: { manifold_id: string; port: number }) => l && `${l.manifold_id} ${l.port}`;
    const at = port(store.design.value?.loops.find((x) => x.id === id));
    if (!(await store.designs.whenCurrent())) {
      hand.problem = "The loops could not be routed: see the verdict.";
      return "";
    }
    const all = store.design.value!.loops;
    const l = all.find((x) => x.id === id) ?? all.find((x) => port(x) === at);
    if (!l) return "";
    let now = l.id;
    store.edit("shape loop", (job) => {
      now = loops.lock(job, all.filter((x) => x.manifold_id === l.manifold_id)).get(l.id) ?? l.id;
    }, key);
    // the run that the keys move stays the same run of the same loop
    const run = hand.run;
    if (now !== id) store.select({ kind: "loop", id: now });
    hand.run = run;
    return now;
  }

  function move(q: SheetPointer) {
    if (split) return dragSplit(q.at);
    if (!drag) return;
    const d = drag;
    if (!d.moved) {
      if (Math.hypot(q.screen[0] - d.screen[0], q.screen[1] - d.screen[1]) < DRAG_FROM_PX) return;
      d.moved = true;
    }
    waiting = { drag: d, to: q.at, alone: q.alone };
    void follow();
  }

  /** Asks where the loop lies now; of many moves only the newest is asked for. */
  async function follow() {
    if (hand.busy) return;
    hand.busy = true;
    while (waiting) {
      const { drag: d } = waiting;
      if (!d.base && !(await begin(d))) break;
      const { to, alone } = waiting;
      waiting = null;
      if (!d.base) continue;
      const left = await put(d.base, d.id, d.grip, [to[0] - d.from[0], to[1] - d.from[1]], alone, d.key, d.left);
      if (left) d.left = left;
    }
    waiting = null;
    hand.busy = false;
  }
  async function begin(d: Drag): Promise<boolean> {
    const mine = givenUp;
    const id = await hold(d.id, d.key);
    if (!id || mine !== givenUp || !waiting) return false;
    [d.id, d.base] = [id, store.job.value!];
    d.left = loops.keptOf(d.base, id)?.corners ?? [];
    return true;
  }

  /**
   * Asks where the loop lies after that move, and puts it there in the job as it is by then: whatever else was edited
   * meanwhile stays. An answer about a loop that no longer lies where it did (`left`) is dropped. Returns its corners.
   */
  async function put(base: Job, loop_id: string, grip: Grip, by: Point, alone: boolean, key: string, left: Point[]): Promise<Point[] | null> {
    const [id, mine] = [store.state.id, givenUp];
    try {
      const got = await answer(api.POST("/api/loops/drag", { body: { job: base as never, loop_id, grip, by, alone } }));
      if (store.state.id !== id || givenUp !== mine || !store.job.value) return null;
      if (!loops.liesAt(store.job.value, loop_id, left)) return null;
      store.edit("shape loop", (job) => loops.reshape(job, loop_id, got.corners as Point[]), key);
      hand.problem = got.stopped ?? "";
      return loops.keptOf(store.job.value, loop_id)?.corners ?? null;
    } catch (e) {
      hand.problem = e instanceof Error ? e.message : String(e);
      return null;
    }
  }

  function up() {
    const key = drag?.key;
    drag = null;
    if (split) store.settle();
    split = null;
    // the last answer of a drag may still be on its way: it belongs to the same step
    if (key && !hand.busy) store.settle();
  }

  /** Moves the run that the keys have chosen. Steps that come while one is under way are made together after it. */
  async function nudge(by: Point) {
    if (nudged) {
      nudged = [nudged[0] + by[0], nudged[1] + by[1]];
      return;
    }
    if (hand.busy) return;
    hand.busy = true;
    let next = by;
    do {
      nudged = [0, 0];
      await store.designs.whenCurrent();
      const l = chosen();
      if (!l || hand.run < 0) break;
      const key = `nudge-${hand.run}-${l.port}-${l.manifold_id}`;
      const id = await hold(l.id, key);
      if (!id) break;
      const base = store.job.value!;
      await put(base, id, { part: "run", index: hand.run }, next, false, key, loops.keptOf(base, id)?.corners ?? []);
      next = nudged;
    } while (next[0] !== 0 || next[1] !== 0);
    nudged = null;
    hand.busy = false;
  }

  /** Chooses the next or the previous run of the chosen loop. */
  function step(by: 1 | -1) {
    const n = (chosen()?.corners.length ?? 1) - 1;
    if (n > 0) hand.run = (hand.run + by + n) % n;
  }

  function drawAt(p: Point, alone: boolean) {
    const near = manifoldNear(p);
    if (hand.marks.length === 0) {
      if (!near) {
        hand.problem = "A loop begins at a manifold: click beside one.";
        return;
      }
      hand.from = near;
      hand.marks = [onManifold(near, p)];
      return;
    }
    if (near === hand.from && hand.marks.length > 2) return finish(onManifold(near, p));
    const at = snapped(p, alone);
    const last = hand.marks.at(-1)!;
    if (Math.hypot(at[0] - last[0], at[1] - last[1]) > 0.02) hand.marks.push(at);
  }

  /** Ends the loop at its manifold: beside its beginning. */
  function finish(end?: Point) {
    const first = hand.marks[0];
    if (!first || hand.marks.length < 3) {
      hand.problem = "A loop has corners on the floor, and ends at the manifold where it began.";
      return;
    }
    const lane = store.job.value!.rules.lane_spacing_m;
    const corners = [...hand.marks, end ?? onManifold(hand.from, [first[0] + lane, first[1] + lane])];
    const middle = corners[Math.floor(corners.length / 2)]!;
    const heated = roomAt(middle)?.floor ? roomAt(middle) : undefined;
    if (!heated) {
      hand.problem = "The middle of the loop lies in no heated room.";
      return;
    }
    let id: string | null = null;
    store.edit("draw loop", (job) => (id = loops.addDrawn(job, store.design.value, hand.from, heated.id, corners)));
    box.choose("select");
    if (id) store.select({ kind: "loop", id });
    else hand.problem = "The manifold has no port left.";
  }

  function splitAt(p: Point) {
    const job = level();
    const near = job && nearestWall(job, p, 3 * reach());
    hand.problem = "";
    if (!near) {
      hand.problem = "A split runs from wall to wall: click on a wall.";
      return;
    }
    const at: Point = [clean(near.wall.a[0] + near.wall.along[0] * near.along), clean(near.wall.a[1] + near.wall.along[1] * near.along)];
    const room = job.rooms.find((r) => r.id === near.room);
    if (!room?.floor) {
      hand.problem = "The floor of this room is not heated.";
      return;
    }
    if (hand.marks.length === 0) {
      hand.marks = [at];
      hand.from = near.room;
      return;
    }
    const other = onRoom(hand.from, p);
    if (!other) {
      hand.problem = "The split ends on another wall of the same room.";
      return;
    }
    const [x, y] = hand.marks[0]!;
    const ends: [Point, Point] = [[x, y], square([x, y], other)];
    const id = hand.from;
    store.edit("split floor", (draft) => {
      const floor = draft.rooms.find((r) => r.id === id)?.floor;
      if (floor) floor.splits = [...(floor.splits ?? []), ends];
    });
    box.choose("select");
    store.select({ kind: "room", id });
  }

  /** Nearly level or plumb is meant so. */
  const square = (a: Point, b: Point): Point => [Math.abs(a[0] - b[0]) < reach() ? a[0] : b[0], Math.abs(a[1] - b[1]) < reach() ? a[1] : b[1]];

  /** The nearest point on the walls of a room. */
  function onRoom(id: string, p: Point): Point | null {
    const room = store.job.value?.rooms.find((r) => r.id === id);
    let best: Point | null = null;
    let least = Infinity;
    for (const w of room ? walls(room) : []) {
      const along = Math.min(w.length, Math.max(0, (p[0] - w.a[0]) * w.along[0] + (p[1] - w.a[1]) * w.along[1]));
      const at: Point = [clean(w.a[0] + w.along[0] * along), clean(w.a[1] + w.along[1] * along)];
      const d = Math.hypot(at[0] - p[0], at[1] - p[1]);
      if (d < least) [best, least] = [at, d];
    }
    return best;
  }

  function dragSplit(p: Point) {
    const s = split!;
    const at = onRoom(s.room, p);
    if (!at) return;
    s.moved = true;
    store.edit("move split", (job) => {
      const ends = job.rooms.find((r) => r.id === s.room)?.floor?.splits?.[s.index];
      if (ends) ends[s.end] = square(ends[1 - s.end] as Point, at);
    }, s.key);
  }

  const select: SheetTool = {
    id: "select", name: "Select, drag", key: "V", icon: glyphs.select,
    down, move, up, cancel,
    letter(key) {
      if (key !== "," && key !== ".") return false;
      step(key === "." ? 1 : -1);
      return true;
    },
    hint: () => (store.where.selection?.kind === "loop" ? `${chosen()?.locked ? "Locked, so that it stays where it lies; “Re-route the others” frees the rest. " : ""}Drag a run or a corner; Alt: it alone, wherever you put it. Keys: , and . choose a run, arrows move it.` : "Click a loop to choose it."),
  };
  const draw: SheetTool = {
    id: "draw", name: "Draw a loop", key: "P", icon: glyphs.loop,
    down: (q) => drawAt(q.at, q.alone),
    move: (q) => void (hand.pointer = snapped(q.at, q.alone)),
    cancel,
    finish: () => finish(),
    hint: () => (hand.marks.length ? "Click corners; back at the manifold, or Enter, ends it. Alt: free of the lattice. Esc leaves it." : "Click beside the manifold where the loop begins."),
  };
  const splitting: SheetTool = {
    id: "split", name: "Split a floor", key: "X", icon: glyphs.split,
    down: (q) => splitAt(q.at),
    move: (q) => void (hand.pointer = q.at),
    cancel,
    hint: () => (hand.marks.length ? "Click the wall where the split ends." : "Click the wall where the split begins."),
  };
  /** Arrow keys move the chosen run; at the loops a step is finer than on the plan. */
  function nudgeRun(by: Point): boolean {
    if (store.where.selection?.kind !== "loop" || hand.run < 0) return false;
    void nudge([by[0] / 5, by[1] / 5]);
    return true;
  }
  watch(() => store.where.selection?.id, () => (hand.run = -1), { flush: "sync" });
  const box = toolbox(hand, [select, draw, splitting], { nudge: nudgeRun, deselect: () => store.select(null) });
  const map = useFloorMap(() => (store.where.station === "loops" ? hand.picture : "none"));
  return Object.assign(box, { map, finish });
}
