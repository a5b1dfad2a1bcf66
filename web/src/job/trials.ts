/**
 * Figures asked for beside the design, as a slider or a switch is moved: one question under way at a time, the newest next; an
 * answer to an older job or question is not shown as the newest's.
 */
import { computed, shallowRef, watch, type ComputedRef, type ShallowRef, type WatchSource } from "vue";
import { Refused } from "../api/client";

export interface Trial<T> {
  /** The newest answer. */
  answer: ShallowRef<T | null>;
  /** Why the server has none. */
  trouble: ShallowRef<string>;
  /** What is shown answers an older question: the newest has no answer yet, or none at all. */
  old: ComputedRef<boolean>;
}

/** `ask` is called whenever one of `of` changes; it throws what the server refuses, and gives null where there is nothing to ask. */
export function useTrial<T>(of: WatchSource<unknown>[], ask: () => Promise<T | null>): Trial<T> {
  const answer = shallowRef<T | null>(null);
  const trouble = shallowRef("");
  const busy = shallowRef(false);
  let again = false;
  async function run() {
    if (busy.value) {
      again = true;
      return;
    }
    busy.value = true;
    do {
      again = false;
      try {
        answer.value = await ask();
        trouble.value = "";
      } catch (e) {
        trouble.value = e instanceof Refused ? e.problem.detail : "The server does not answer.";
      }
    } while (again as boolean);
    busy.value = false;
  }
  watch(of, () => void run(), { immediate: true, deep: true });
  return { answer, trouble, old: computed(() => busy.value || trouble.value !== "") };
}
