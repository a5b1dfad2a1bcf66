import { nextTick, ref } from "vue";
import { describe, expect, it } from "vitest";
import { Refused } from "../api/client";
import { useTrial } from "./trials";

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
