/** Answers of a drag that come late: they move their loop, and nothing else. */
import "fake-indexeddb/auto";
import { beforeEach, describe, expect, it, vi } from "vitest";
import type { Job, LoopDesign, Point } from "../../api/client";
import type { SheetPointer } from "../../sheet/tool";
import type { View } from "../../sheet/view";

const CORNERS: Point[] = [[2, 0], [2, 3], [3, 3], [3, 1], [2.2, 1], [2.2, 0]];
const moved = (x: number): Point[] => CORNERS.map(([a, b], i) => (i === 2 || i === 3 ? [x, b] : [a, b]));
const JOB = {
  version: 6,
  name: "Test",
  site: { units: "metric" },
  levels: [{ id: "ground", name: "Ground floor" }],
  rooms: [{ id: "a", level_id: "ground", name: "A", room_c: 20, outline: [[0, 0], [5, 0], [5, 4], [0, 4]], openings: [], keep_outs: [], walls: [] }],
  manifolds: [{ id: "m", letter: "A", room_id: "a", edge: 0, offset_m: 2, ports: 3 }],
  loops: [{ id: "loop-1", manifold_id: "m", port: 1, room_id: "a", corners: CORNERS, leaders_m: 0 }],
  marks: [], constructions: [], materials: [], build_ups: [],
} as unknown as Job;
const DESIGNED = { id: "loop-1", port: 1, manifold_id: "m", room_ids: ["a"], corners: CORNERS, locked: true, leader_length_m: 0 } as unknown as LoopDesign;

let store: (typeof import("../../job/store"))["store"];
let tools: import("./tools").LoopTools;
/** Answers the drag that is under way. */
let answer: (corners: Point[]) => void;
let asked: { job: Job; by: Point }[];

beforeEach(async () => {
  const json = (body: unknown) => new Response(JSON.stringify(body), { headers: { "Content-Type": "application/json" } });
  asked = [];
  vi.stubGlobal("fetch", async (request: Request) => {
    const { pathname } = new URL(request.url);
    if (pathname === "/api/library") return json({ tubes: [] });
    if (pathname === "/api/design") return json({ loops: [DESIGNED], rooms: [], manifolds: [], walls: [], outlines: [] });
    if (pathname === "/api/loops/drag") {
      asked.push(await request.json());
      return json({ corners: await new Promise<Point[]>((resolve) => (answer = resolve)) });
    }
    return json(request.method === "GET" ? { id: "j", revision: 1, job: JOB } : { revision: 2 });
  });
  const Original = Request;
  vi.stubGlobal("Request", class extends Original {
    constructor(input: string, init?: RequestInit) {
      super(new URL(input, "http://fuoco.test"), init);
    }
  });
  vi.resetModules();
  ({ store } = await import("../../job/store"));
  const { loopTools } = await import("./tools");
  // a metre is a hundred points of the screen
  tools = loopTools({ view: { scale: 100 }, toPlan: ([x, y]: Point) => [x / 100, y / 100], pan: () => {} } as unknown as View);
  await store.open("j");
  await vi.waitFor(() => expect(store.design.value?.loops).toHaveLength(1));
  store.select({ kind: "loop", id: "loop-1" });
});

const loop = { closest: () => ({ dataset: { kind: "loop", id: "loop-1" } }) } as unknown as Element;
/** The pointer at a place of the screen, on the loop. */
const at = (x: number, y: number): SheetPointer => ({ screen: [x, y], at: [x / 100, y / 100], target: loop, alone: false });
const down = (x: number, y: number) => tools.active.down(at(x, y));
const move = (x: number, y: number) => tools.active.move!(at(x, y));
const corners = () => store.job.value!.loops![0]!.corners;
/** Drags the run at x = 3 and waits until the server is asked. */
async function drag() {
  down(300, 200);
  move(330, 200);
  await vi.waitFor(() => expect(asked).toHaveLength(1));
}

describe("a drag given up", () => {
  it("is as if it had never been, and its answer is not taken", async () => {
    const before = store.job.value;
    await drag();
    expect(tools.letter("escape")).toBe(true);
    answer(moved(3.3));
    await vi.waitFor(() => expect(tools.hand.busy).toBe(false));
    expect(store.job.value).toEqual(before);
  });

  it("that had changed nothing yet takes nothing else back", async () => {
    store.edit("warmer", (j) => (j.rooms[0]!.room_c = 23));
    down(300, 200);
    move(330, 200);
    // the design of the warmer room is not there yet: nothing is locked, nothing moved
    tools.letter("escape");
    await store.designs.whenCurrent();
    expect([store.job.value!.rooms[0]!.room_c, corners(), asked.length]).toEqual([23, CORNERS, 0]);
  });
});

describe("the late answer of a drag", () => {
  it("moves its loop and leaves what was edited meanwhile", async () => {
    await drag();
    store.edit("warmer", (j) => (j.rooms[0]!.room_c = 23));
    answer(moved(3.3));
    await vi.waitFor(() => expect(corners()).toEqual(moved(3.3)));
    expect(store.job.value!.rooms[0]!.room_c).toBe(23);
    store.undo();
    expect([corners(), store.job.value!.rooms[0]!.room_c]).toEqual([CORNERS, 23]);
  });

  it("is dropped where the loop has been moved or given back to the layout", async () => {
    await drag();
    store.edit("shape", (j) => (j.loops![0]!.corners = moved(4)));
    
    answer(moved(3.3));
    await vi.waitFor(() => expect(tools.hand.busy).toBe(false));
    expect([corners(), store.undoLabel.value]).toEqual([moved(4), "shape"]);
    tools.active.up!();
    down(400, 200);
    move(430, 200);
    store.edit("unlock", (j) => (j.loops = []));
    answer(moved(4.3));
    await vi.waitFor(() => expect(tools.hand.busy).toBe(false));
    expect(store.job.value!.loops).toEqual([]);
  });

  it("follows the pointer from where the loop lay, step after step", async () => {
    await drag();
    move(350, 200);
    answer(moved(3.3));
    await vi.waitFor(() => expect(asked).toHaveLength(2));
    expect([asked[1]!.by[0], asked[1]!.job.loops![0]!.corners]).toEqual([expect.closeTo(0.5), CORNERS]);
    answer(moved(3.5));
    await vi.waitFor(() => expect(corners()).toEqual(moved(3.5)));
    tools.active.up!();
    store.undo();
    expect(corners()).toEqual(CORNERS);
  });
});
