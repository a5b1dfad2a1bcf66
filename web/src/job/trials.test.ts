import { nextTick, ref } from "vue";
import { afterEach, describe, expect, it, vi } from "vitest";
import { Refused } from "../api/client";
import { useTrial, type Sending } from "./trials";

const left = vi.hoisted(() => ({ windows: [] as string[], share: 0.25 as number | null }));
vi.mock("../api/client", async (original) => ({
  ...(await original<typeof import("../api/client")>()),
  leave: (window: string) => left.windows.push(window),
  progress: () => Promise.resolve(left.share),
}));
afterEach(() => vi.useRealTimers());

const soon = () => new Promise((resolve) => setTimeout(resolve));

describe("a trial", () => {
  it("asks one question at a time and ends with the newest", async () => {
    const at = ref(1);
    const asked: number[] = [];
    const open: ((v: number) => void)[] = [];
    const { answer, old } = useTrial<number>([at], () => {
      asked.push(at.value);
      return new Promise<number>((resolve) => open.push(resolve));
    });
    expect(old.value).toBe(true);
    for (const v of [2, 3, 4]) {
      at.value = v;
      await nextTick();
    }
    expect(asked).toEqual([1]);
    open.shift()!(10);
    await soon();
    expect(asked).toEqual([1, 4]);
    open.shift()!(40);
    await soon();
    expect([answer.value, old.value]).toEqual([40, false]);
  });

  it("keeps the last answer and says what the server refuses", async () => {
    const wrong = ref(false);
    const problem = { title: "No", detail: "plant: this job has no plant", status: 422 };
    const { answer, trouble, old } = useTrial<number>([wrong], () => (wrong.value ? Promise.reject(new Refused(problem as never)) : Promise.resolve(7)));
    await soon();
    expect([answer.value, trouble.value]).toEqual([7, ""]);
    wrong.value = true;
    await soon();
    // what stands there answers the question before
    expect([answer.value, trouble.value, old.value]).toEqual([7, problem.detail, true]);
    wrong.value = false;
    await soon();
    expect([trouble.value, old.value]).toEqual(["", false]);
  });
});

describe("a trial that takes long", () => {
  /** Questions that are answered by hand, and fail when they are given up. */
  function asking() {
    const open: { how: Sending; answer: (v: number) => void }[] = [];
    const ask = (how: Sending) =>
      new Promise<number>((resolve, reject) => {
        open.push({ how, answer: resolve });
        how.signal.addEventListener("abort", () => reject(new Error("aborted")));
      });
    return { open, ask };
  }

  it("tells how far it has come, and makes way for the next question at once", async () => {
    vi.useFakeTimers();
    const at = ref(1);
    left.windows = [];
    const { open, ask } = asking();
    const { answer, trouble, share, old } = useTrial<number>([at], ask, "window-year");
    expect(open[0]!.how.headers).toEqual({ "X-Fuoco-Window": "window-year-1" });
    await vi.advanceTimersByTimeAsync(100);
    // not long yet: the question that is under way is answered first
    expect(share.value).toBeNull();
    at.value = 2;
    await nextTick();
    expect(open).toHaveLength(1);
    await vi.advanceTimersByTimeAsync(300);
    expect(open[0]!.how.signal.aborted).toBe(true);
    // the first one only, however late the server hears of it
    expect([left.windows, open[1]!.how.headers["X-Fuoco-Window"]]).toEqual([["window-year-1"], "window-year-2"]);
    expect(open).toHaveLength(2);
    await vi.advanceTimersByTimeAsync(350);
    expect(share.value).toBe(0.25);
    left.share = 0.5;
    await vi.advanceTimersByTimeAsync(400);
    expect(share.value).toBe(0.5);
    at.value = 3;
    await nextTick();
    await vi.advanceTimersByTimeAsync(0);
    expect(open).toHaveLength(3);
    open[2]!.answer(7);
    await vi.advanceTimersByTimeAsync(0);
    expect([answer.value, trouble.value, share.value, old.value]).toEqual([7, "", null, false]);
  });

  it("is stopped by hand and asked anew by hand", async () => {
    vi.useFakeTimers();
    const { open, ask } = asking();
    const { answer, trouble, stopped, old, stop, goOn } = useTrial<number>([ref(1)], ask, "window-year");
    await vi.advanceTimersByTimeAsync(400);
    left.windows = [];
    stop();
    await vi.advanceTimersByTimeAsync(0);
    expect([stopped.value, old.value, trouble.value, left.windows]).toEqual([true, true, "", ["window-year-1"]]);
    goOn();
    await vi.advanceTimersByTimeAsync(0);
    open[1]!.answer(9);
    await vi.advanceTimersByTimeAsync(0);
    expect([answer.value, stopped.value, old.value]).toEqual([9, false, false]);
    // nothing is under way: nothing is stopped
    stop();
    expect(stopped.value).toBe(false);
  });
});
