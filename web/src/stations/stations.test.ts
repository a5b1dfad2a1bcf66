import { beforeEach, describe, expect, it, vi } from "vitest";
import { toolbox, type SheetPointer, type SheetTool } from "../sheet/tool";

describe("a box of tools", () => {
  const tool = (id: string, key: string, more: Partial<SheetTool> = {}): SheetTool => ({ id, name: id, key, down: () => {}, hint: () => "", ...more });
  let said: string[];
  let box: ReturnType<typeof toolbox>;
  let drawing = false;
  beforeEach(() => {
    said = [];
    drawing = false;
    const pen = tool("pen", "P", {
      cancel: () => {
        const was = drawing;
        drawing = false;
        said.push("given up");
        return was;
      },
      finish: () => said.push("finished"),
      letter: (key) => key === "x" && Boolean(said.push("turned")),
    });
    box = toolbox({ tool: "select", problem: "" }, [tool("select", "V"), pen, tool("cut", "X")], { deselect: () => said.push("deselected") });
  });

  it("chooses by key, and gives up what was under way", () => {
    expect([box.letter("p"), box.active.id]).toEqual([true, "pen"]);
    box.letter("v");
    expect([box.active.id, said]).toEqual(["select", ["given up"]]);
    expect(box.letter("q")).toBe(false);
  });

  it("lets the tool's own keys go first", () => {
    box.choose("pen");
    box.letter("x");
    box.letter("enter");
    expect([box.active.id, said]).toEqual(["pen", ["turned", "finished"]]);
  });

  it("gives up the drawing at the first Esc, the tool at the second, what is chosen at the third", () => {
    box.choose("pen");
    drawing = true;
    box.letter("escape");
    expect(box.active.id).toBe("pen");
    box.letter("escape");
    expect(box.active.id).toBe("select");
    box.letter("escape");
    expect(said.at(-1)).toBe("deselected");
  });
});

describe("drawing a plan", () => {
  const view = { view: { scale: 100 }, toPlan: (p: number[]) => p } as never;
  const outline = [[0, 0], [5, 0], [5, 4], [0, 4]];
  const JOB = { format: "fuoco-job", version: 2, name: "T", levels: [{ id: "g", name: "G" }], site: { units: "metric" }, rooms: [], manifolds: [], marks: [], constructions: [], materials: [], build_ups: [] };
  let store: (typeof import("../job/store"))["store"];
  let tools: import("./rooms/tools").RoomTools;

  beforeEach(async () => {
    vi.stubGlobal("fetch", async (request: Request) => {
      const { pathname } = new URL(request.url);
      const body = pathname === "/api/library" ? { tubes: [] } : pathname === "/api/design" ? { loops: [], rooms: [], manifolds: [], walls: [], outlines: [] } : request.method === "GET" ? { id: "j", revision: 1, job: JOB } : { revision: 2 };
      return new Response(JSON.stringify(body), { headers: { "Content-Type": "application/json" } });
    });
    const Original = Request;
    vi.stubGlobal("Request", class extends Original {
      constructor(input: string, init?: RequestInit) {
        super(new URL(input, "http://fuoco.test"), init);
      }
    });
    vi.resetModules();
    ({ store } = await import("../job/store"));
    const { roomTools } = await import("./rooms/tools");
    await store.open("j");
    tools = roomTools(view);
    tools.addRoom(outline as never);
  });

  const at = (x: number, y: number, dataset: DOMStringMap = {}): SheetPointer => ({ at: [x, y], screen: [x * 100, y * 100], target: { closest: () => ({ dataset }) } as never, alone: false });
  const wall = { kind: "wall", id: "room-1", edge: "1" };

  it("a drag given up by Esc is as if it had never been", () => {
    const before = store.job.value;
    tools.active.down(at(5, 2, wall));
    tools.active.move!(at(6, 2));
    expect(store.job.value!.rooms[0]!.outline[1]).toEqual([6, 0]);
    expect(tools.letter("escape")).toBe(true);
    expect(store.job.value).toBe(before);
    tools.active.move!(at(7, 2));
    expect(store.job.value).toBe(before);
  });

  it("a drag does not put back what came in between, not even its first step", () => {
    tools.active.down(at(5, 2, wall));
    store.edit("warmer", (j) => (j.rooms[0]!.room_c = 23));
    tools.active.move!(at(6, 2));
    expect([store.job.value!.rooms[0]!.room_c, store.job.value!.rooms[0]!.outline[1]]).toEqual([23, [5, 0]]);
  });

  it("a wall stops before the room that it would run into, and says which", () => {
    tools.addRoom([[7, 0], [9, 0], [9, 4], [7, 4]]);
    store.edit("name", (j) => (j.rooms[1]!.name = "Kitchen"));
    tools.active.down(at(5, 2, wall));
    tools.active.move!(at(8, 2));
    expect(store.job.value!.rooms[0]!.outline[1]).toEqual([6.95, 0]);
    expect(tools.hand.problem).toBe("Stopped by Kitchen.");
  });

  it("in feet and inches what hangs on walls moves by inches", async () => {
    const { viewer } = await import("../job/viewer");
    viewer.units.value = "us";
    tools.choose("window");
    tools.active.down(at(5, 2));
    const id = store.job.value!.rooms[0]!.openings[0]!.id;
    tools.letter("escape");
    tools.active.down(at(5, 2, { kind: "opening", id }));
    tools.active.move!(at(5, 2.3));
    const { offset_m } = store.job.value!.rooms[0]!.openings[0]!;
    expect(offset_m / 0.0254).toBeCloseTo(Math.round(offset_m / 0.0254), 2);
    viewer.units.value = "job";
  });

  it("the window tool stays, with the size of the last one", () => {
    tools.choose("window");
    tools.hand.width = 2.2;
    tools.active.down(at(5, 2));
    expect(tools.hand.tool).toBe("window");
    store.library.value = { usual: { metric: { openings: [{ kind: "doorway", width_m: 0.9, height_m: 2, sill_m: 0 }] } } } as never;
    tools.choose("doorway");
    expect(tools.hand.width).toBe(0.9);
    tools.choose("window");
    expect(tools.hand.width).toBe(2.2);
  });
});
