/** What the pointer does on the sheet of the loops: choose, drag a run or a corner, draw a loop, part a room's floor. */
import { reactive } from "vue";
import { answer, api, type Grip, type Job, type Point } from "../api/client";
import { clean, inside, walls } from "../job/edit";
import * as loops from "../job/loops";
import { store } from "../job/store";
import { nearestWall } from "../sheet/snap";
import type { View } from "../sheet/view";

export type LoopTool = "select" | "draw" | "split";
export const LOOP_TOOLS: { tool: LoopTool; name: string; key: string }[] = [
  { tool: "select", name: "Select, drag", key: "V" },
  { tool: "draw", name: "Draw a loop", key: "P" },
  { tool: "split", name: "Split a floor", key: "X" },
];

interface Drag {
  id: string;
  grip: Grip;
  from: Point;
  screen: Point;
  /** The job with the loop locked, before anything moved. */
  base: Job;
  key: string;
  moved: boolean;
  /** Corners of the loop as the drag left them last: where they are others, something else has moved the loop. */
  left: Point[];
}
type Held = { drag: Drag; to: Point; alone: boolean };

export function useLoopTools(view: View) {
  const hand = reactive({
    tool: "select" as LoopTool,
    /** Corners of a loop being drawn, or the first end of a split. */
    marks: [] as Point[],
    pointer: null as Point | null,
    /** Manifold at which a drawn loop began. */
    manifold: "",
    /** Which run of the chosen loop the keys move. */
    run: -1,
    problem: "",
    busy: false,
  });
  let drag: Drag | null = null;
  let panning: Point | null = null;
  let split: { room: string; index: number; end: 0 | 1; key: string; moved: boolean } | null = null;
  let waiting: Held | null = null;
  /** Steps by keys that came while one is under way, together; none when none is. */
  let nudged: Point | null = null;
  /** Counts drags given up: their answers under way are not taken. */
  let givenUp = 0;

  const reach = () => 12 / view.view.scale;
  const level = () => store.levelJob.value;
  const chosen = () => (store.state.selection?.kind === "loop" ? store.design.value?.loops.find((l) => l.id === store.state.selection!.id) : undefined);

  function choose(tool: LoopTool) {
    cancel();
    hand.tool = tool;
  }

  function cancel() {
    hand.marks = [];
    hand.manifold = "";
    hand.problem = "";
    // a drag given up is as if it had never been
    if (drag?.moved || split?.moved) store.undo();
    givenUp++;
    waiting = null;
    drag = null;
    split = null;
    panning = null;
  }
  /** Whether something is being dragged. */
  const dragging = () => Boolean(drag ?? split);

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

  function down(screen: Point, target: Element, button: number, alone: boolean) {
    const job = store.job.value;
    if (!job) return;
    const p = view.toPlan(screen);
    hand.problem = "";
    if (button === 1) return void (panning = screen);
    if (hand.tool === "draw") return drawAt(p, alone);
    if (hand.tool === "split") return splitAt(p);
    const data = target.closest<SVGElement>("[data-kind]")?.dataset ?? {};
    const kind = data.kind;
    if (kind === "split-end") {
      split = { room: data.id!, index: Number(data.index), end: Number(data.end) as 0 | 1, key: `split-${data.id}-${data.index}-${screen.join()}`, moved: false };
      return;
    }
    const l = chosen();
    if (l && kind === "loop-corner") return grab(l.id, { part: "corner", index: Number(data.index) }, p, screen);
    if (kind === "loop" && l && data.id === l.id) {
      const run = loops.nearestRun(l.corners as Point[], p, 2 * reach());
      if (run) {
        hand.run = run.index;
        return grab(l.id, { part: "run", index: run.index }, p, screen);
      }
    }
    if (kind === "loop" || kind === "room" || kind === "manifold") {
      hand.run = -1;
      store.select({ kind, id: data.id! });
      return;
    }
    panning = screen;
    store.select(null);
  }

  function grab(id: string, grip: Grip, from: Point, screen: Point) {
    drag = { id, grip, from, screen, base: store.job.value!, key: `shape-${id}-${screen.join()}`, moved: false, left: [] };
  }

  /**
   * Before a loop is shaped it and the others of its manifold are locked, so that nothing else moves with it. Returns the
   * loop's id from then on.
   */
  function hold(id: string, key: string): string {
    const l = store.design.value?.loops.find((x) => x.id === id);
    if (!l) return id;
    let now = id;
    store.edit("shape loop", (job) => {
      const all = store.design.value!.loops.filter((x) => x.manifold_id === l.manifold_id);
      now = loops.lock(job, all).get(id) ?? id;
    }, key);
    if (now !== id) store.select({ kind: "loop", id: now });
    return now;
  }

  function move(screen: Point, alone: boolean) {
    const p = view.toPlan(screen);
    hand.pointer = hand.tool === "draw" ? snapped(p, alone) : p;
    if (panning) {
      view.pan(screen[0] - panning[0], screen[1] - panning[1]);
      panning = screen;
      return;
    }
    if (split) return dragSplit(p);
    if (!drag) return;
    if (!drag.moved) {
      if (Math.hypot(screen[0] - drag.screen[0], screen[1] - drag.screen[1]) < 4) return;
      drag.moved = true;
      drag.id = hold(drag.id, drag.key);
      drag.base = store.job.value!;
      drag.left = loops.keptOf(drag.base, drag.id)?.corners ?? [];
    }
    waiting = { drag, to: p, alone };
    void follow();
  }

  /** Asks where the loop lies now; of many moves only the newest is asked for. */
  async function follow() {
    if (hand.busy) return;
    hand.busy = true;
    while (waiting) {
      const { drag: d, to, alone } = waiting;
      waiting = null;
      const left = await put(d.base, d.id, d.grip, [to[0] - d.from[0], to[1] - d.from[1]], alone, d.key, d.left);
      if (left) d.left = left;
    }
    hand.busy = false;
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
    panning = null;
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
      const l = chosen();
      if (!l || hand.run < 0) break;
      const key = `nudge-${hand.run}-${l.port}-${l.manifold_id}`;
      const id = hold(l.id, key);
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
      hand.manifold = near;
      hand.marks = [onManifold(near, p)];
      return;
    }
    if (near === hand.manifold && hand.marks.length > 2) return finish(onManifold(near, p));
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
    const corners = [...hand.marks, end ?? onManifold(hand.manifold, [first[0] + lane, first[1] + lane])];
    const middle = corners[Math.floor(corners.length / 2)]!;
    const heated = roomAt(middle)?.floor ? roomAt(middle) : undefined;
    if (!heated) {
      hand.problem = "The middle of the loop lies in no heated room.";
      return;
    }
    let id: string | null = null;
    store.edit("draw loop", (job) => (id = loops.addDrawn(job, store.design.value, hand.manifold, heated.id, corners)));
    choose("select");
    if (id) store.select({ kind: "loop", id });
    else hand.problem = "The manifold has no port left.";
  }

  function splitAt(p: Point) {
    const job = level();
    const near = job && nearestWall(job, p, 3 * reach());
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
      hand.manifold = near.room;
      return;
    }
    const other = onRoom(hand.manifold, p);
    if (!other) {
      hand.problem = "The split ends on another wall of the same room.";
      return;
    }
    const [x, y] = hand.marks[0]!;
    const ends: [Point, Point] = [[x, y], square([x, y], other)];
    const id = hand.manifold;
    store.edit("split floor", (draft) => {
      const floor = draft.rooms.find((r) => r.id === id)?.floor;
      if (floor) floor.splits = [...(floor.splits ?? []), ends];
    });
    choose("select");
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

  return { hand, choose, cancel, dragging, down, move, up, nudge, step, finish };
}

export type LoopTools = ReturnType<typeof useLoopTools>;
