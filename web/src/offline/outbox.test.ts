// Records of the site on their way: whatever happens to network, server or browser, each arrives once, in order.
import "fake-indexeddb/auto";
import { IDBFactory } from "fake-indexeddb";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { ref } from "vue";
import type { SiteRecord } from "../api/client";

class Server {
  records: { job: string; record: SiteRecord }[] = [];
  photos: string[] = [];
  down = false;
  /** Takes what is sent, and breaks the connection before it answers. */
  loseAnswers = false;
  refuse: ((r: SiteRecord) => string | undefined) | null = null;
  signedOut = false;
  asked = 0;

  fetch = async (input: Request | string, init?: RequestInit): Promise<Response> => {
    const request = input instanceof Request ? input : new Request(input, init);
    this.asked++;
    const json = (body: unknown, status = 200) => new Response(JSON.stringify(body), { status, headers: { "Content-Type": "application/json" } });
    if (this.down) throw new TypeError("no connection");
    if (this.signedOut) return json({ status: 401, title: "no", detail: "First sign in." }, 401);
    const job = /jobs\/([^/]+)\//.exec(new URL(request.url).pathname)![1]!;
    if (request.url.endsWith("/photos")) {
      const id = (await request.text()).padEnd(64, "-");
      if (!this.photos.includes(id)) this.photos.push(id);
      if (this.loseAnswers) throw new TypeError("the connection broke");
      return json({ id });
    }
    const record = (await request.json()) as SiteRecord;
    const why = this.refuse?.(record);
    if (why) return json({ status: 422, title: "no", detail: why, field: "fact" }, 422);
    if (record.photos?.some((p) => !this.photos.includes(p))) return json({ status: 422, title: "no", detail: "send the photo first" }, 422);
    if (!this.records.some((r) => r.record.id === record.id)) this.records.push({ job, record });
    if (this.loseAnswers) throw new TypeError("the connection broke");
    return json({ number: this.records.length, received_at: record.at, who: "", record });
  };
  notes = () => this.records.map((r) => r.record.note);
}

let server: Server;
let who = "";
const note = (text: string) => ({ fact: { kind: "note" } as const, note: text });
/** Another window, or the same after the browser was killed: nothing of the page is left but what is kept. */
async function windowOf() {
  vi.resetModules();
  const { createOutbox } = await import("./outbox");
  return createOutbox(() => who);
}
const idle = async (box: Awaited<ReturnType<typeof windowOf>>) => vi.waitFor(() => expect(box.state.sending).toBe(false));

beforeEach(() => {
  server = new Server();
  who = "";
  vi.stubGlobal("indexedDB", new IDBFactory());
  vi.stubGlobal("fetch", server.fetch);
  const Original = Request;
  vi.stubGlobal(
    "Request",
    class extends Original {
      constructor(input: string, init?: RequestInit) {
        super(new URL(input, "http://fuoco.test"), init);
      }
    },
  );
});
afterEach(() => vi.unstubAllGlobals());

describe("the outbox", () => {
  it("sends what is written at once, and keeps nothing of it", async () => {
    const box = await windowOf();
    await box.add("a", note("wet"));
    await vi.waitFor(() => expect(server.notes()).toEqual(["wet"]));
    await vi.waitFor(() => expect(box.state.waiting).toEqual([]));
    expect(server.records[0]!.record.id).toMatch(/^[0-9a-f]{24}$/);
  });

  it("keeps what is written without a network, through a killed browser, and sends it in order", async () => {
    server.down = true;
    const box = await windowOf();
    for (const text of ["one", "two", "three"]) await box.add("a", note(text));
    await idle(box);
    expect(box.state.offline).toBe(true);
    const later = await windowOf();
    await later.show();
    expect(later.state.waiting.map((w) => w.record.note)).toEqual(["one", "two", "three"]);
    server.down = false;
    await later.send();
    expect(server.notes()).toEqual(["one", "two", "three"]);
    expect(later.state.waiting).toEqual([]);
  });

  it("sends again what was not answered, and it counts once", async () => {
    server.loseAnswers = true;
    const box = await windowOf();
    await box.add("a", note("once"));
    await idle(box);
    expect(box.state.waiting.length).toBe(1);
    server.loseAnswers = false;
    await box.send();
    await box.send();
    expect(server.notes()).toEqual(["once"]);
    expect(box.state.waiting).toEqual([]);
  });

  it("sends photos before the record that shows them, each once", async () => {
    server.loseAnswers = true;
    const box = await windowOf();
    await box.add("a", { ...note("shown"), photos: [new Blob(["aa"]), new Blob(["bb"])] });
    await idle(box);
    server.loseAnswers = false;
    const later = await windowOf();
    await later.send();
    expect(server.photos.map((p) => p.slice(0, 2))).toEqual(["aa", "bb"]);
    expect(server.records.map((r) => r.record.photos)).toEqual([server.photos]);
  });

  it("takes what a form holds as it is", async () => {
    server.down = true;
    const box = await windowOf();
    const held = ref({ fact: { kind: "ticked" as const, item: "every/labels", done: true }, photos: [new Blob(["aa"])] });
    await box.add("a", held.value);
    const later = await windowOf();
    await later.show();
    expect(later.state.waiting.map((w) => [w.record.fact, w.photos.length])).toEqual([[{ kind: "ticked", item: "every/labels", done: true }, 1]]);
    server.down = false;
    await later.send();
    expect(server.records.length).toBe(1);
  });

  it("keeps and says what is not taken, and the next has its turn", async () => {
    server.refuse = (r) => (r.note === "bad" ? "fact: is not for this job" : undefined);
    const box = await windowOf();
    await box.add("a", note("bad"));
    await box.add("a", note("good"));
    await vi.waitFor(() => expect(server.notes()).toEqual(["good"]));
    await idle(box);
    expect(box.state.waiting.map((w) => w.refused)).toEqual(["fact: is not for this job"]);
    // it is not asked again and again by itself
    const before = server.asked;
    await box.send();
    expect(server.asked).toBe(before);
    server.refuse = null;
    await box.insist();
    expect(server.notes()).toEqual(["good", "bad"]);
  });

  it("is thrown away by people only", async () => {
    server.refuse = () => "no";
    const box = await windowOf();
    await box.add("a", note("bad"));
    await idle(box);
    await vi.waitFor(() => expect(box.state.waiting[0]?.refused).toBe("no"));
    await box.giveUp(box.state.waiting[0]!.number!);
    expect(box.state.waiting).toEqual([]);
  });

  it("sends under the name of whoever wrote it, and under no other", async () => {
    server.down = true;
    who = "Cleo";
    const box = await windowOf();
    await box.add("a", note("Cleo's"));
    await idle(box);
    server.down = false;
    who = "Ada";
    const hers = await windowOf();
    await hers.send();
    expect(server.records).toEqual([]);
    expect(hers.state.waiting.map(hers.mine)).toEqual([false]);
    await hers.add("a", note("Ada's"));
    await vi.waitFor(() => expect(server.notes()).toEqual(["Ada's"]));
    who = "Cleo";
    const again = await windowOf();
    await again.send();
    expect(server.notes()).toEqual(["Ada's", "Cleo's"]);
  });

  it("sends what another wrote when somebody says so, and what was written before it was known who it is", async () => {
    server.down = true;
    const early = await windowOf();
    await early.add("a", note("nobody's yet"));
    who = "Van 3 (link)";
    await early.add("a", note("of a link that is past"));
    await idle(early);
    server.down = false;
    who = "Ada";
    const box = await windowOf();
    await box.send();
    expect(server.notes()).toEqual(["nobody's yet"]);
    await box.adopt();
    expect(server.notes()).toEqual(["nobody's yet", "of a link that is past"]);
    expect(box.state.waiting).toEqual([]);
  });

  it("waits where one is signed out, and loses nothing", async () => {
    server.signedOut = true;
    const box = await windowOf();
    await box.add("a", note("wet"));
    await idle(box);
    expect([box.state.waiting.length, box.state.waiting[0]!.refused, box.state.offline]).toEqual([1, undefined, false]);
    server.signedOut = false;
    await box.send();
    expect(server.notes()).toEqual(["wet"]);
  });

  it("goes straight to the server where the browser keeps nothing, and says when that fails", async () => {
    vi.stubGlobal("indexedDB", {
      open: () => {
        throw new Error("blocked");
      },
    });
    const box = await windowOf();
    await box.add("a", note("direct"));
    expect(server.notes()).toEqual(["direct"]);
    server.down = true;
    await expect(box.add("a", note("lost?"))).rejects.toThrow();
  });

  it("60 records and 18 photos through a network that breaks at random arrive once each, in order", async () => {
    let seed = 7;
    const random = () => (seed = (seed * 16807) % 2147483647) / 2147483647;
    server.down = true;
    let box = await windowOf();
    const written = Array.from({ length: 60 }, (_, k) => `record ${k}`);
    for (const [k, text] of written.entries()) {
      await box.add("a", { ...note(text), photos: k % 10 < 3 ? [new Blob([`photo ${k}`])] : [] });
      // the browser is killed now and then
      if (k % 17 === 16) box = await windowOf();
    }
    server.down = false;
    const sound = server.fetch;
    vi.stubGlobal("fetch", async (input: Request | string, init?: RequestInit) => {
      const luck = random();
      if (luck < 0.1) throw new TypeError("no connection");
      const answer = await sound(input, init);
      if (luck > 0.9) throw new TypeError("the connection broke");
      return answer;
    });
    for (let tries = 0; tries < 400 && (tries === 0 || box.state.waiting.length); tries++) {
      if (tries % 25 === 24) box = await windowOf();
      await box.send();
    }
    expect(server.notes()).toEqual(written);
    expect(server.photos.map((p) => p.replace(/-+$/, "")).sort()).toEqual(written.map((_, k) => `photo ${k}`).filter((_, k) => k % 10 < 3).sort());
    expect(new Set(server.records.flatMap((r) => r.record.photos ?? [])).size).toBe(18);
  }, 60_000);
});
