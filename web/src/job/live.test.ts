import { afterEach, beforeEach, expect, it, vi } from "vitest";
import { WINDOW } from "../api/client";
import { createLive } from "./live";

/** A stream that the test speaks for. */
class Stream extends EventTarget {
  static last: Stream;
  closed = false;
  constructor(readonly url: string) {
    super();
    Stream.last = this;
  }
  say(event: string, data?: unknown) {
    this.dispatchEvent(data === undefined ? new Event(event) : new MessageEvent(event, { data: JSON.stringify(data) }));
  }
  close() {
    this.closed = true;
  }
}

beforeEach(() => void vi.stubGlobal("EventSource", Stream));
afterEach(() => void vi.unstubAllGlobals());

it("tells who else is here, each once and oneself not, and every save", () => {
  const heard: (number | null)[] = [];
  const live = createLive((revision) => heard.push(revision));
  live.begin("a job");
  expect(Stream.last.url).toBe(`/api/jobs/a%20job/events?window=${WINDOW}`);
  Stream.last.say("people", [{ window: WINDOW, name: "Ada" }, { window: "other-1", name: "Cleo" }, { window: "other-2", name: "Ben" }, { window: "other-3", name: "Ben" }]);
  expect(live.state.people).toEqual(["Ben", "Cleo"]);
  Stream.last.say("saved", { revision: 7, who: "Ben" });
  expect([heard, live.state.lastBy]).toEqual([[7], "Ben"]);
});

it("asks for what it may have missed when the connection comes back, and not when it is first made", () => {
  const heard: (number | null)[] = [];
  const live = createLive((revision) => heard.push(revision));
  live.begin("a");
  Stream.last.say("open");
  expect(heard).toEqual([]);
  Stream.last.say("open");
  expect(heard).toEqual([null]);
});

it("says nothing of a job that was left", () => {
  const live = createLive(() => {});
  live.begin("a");
  const before = Stream.last;
  before.say("people", [{ window: "other", name: "Ben" }]);
  live.begin("b");
  expect([before.closed, live.state.people]).toEqual([true, []]);
  live.end();
  expect(Stream.last.closed).toBe(true);
});
