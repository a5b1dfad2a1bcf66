/**
 * Figures asked for beside the design, as a slider or a switch is moved: one question under way at a time, the newest next; an
 * answer to an older job or question is not shown as the newest's. What takes long says how far it has come, can be stopped, and
 * makes way for the next question at once.
 */
import { computed, getCurrentScope, onScopeDispose, ref, shallowRef, watch, type ComputedRef, type Ref, type ShallowRef, type WatchSource } from "vue";
import { leave, progress, Refused } from "../api/client";

export interface Trial<T> {
  /** The newest answer. */
  answer: ShallowRef<T | null>;
  /** Why the server has none. */
  trouble: ShallowRef<string>;
  /** What is shown answers an older question: the newest has no answer yet, or none at all. */
  old: ComputedRef<boolean>;
  /** How far it has come, 0 to 1, once it takes long. */
  share: Ref<number | null>;
  /** It was stopped by hand. */
  stopped: Ref<boolean>;
  stop(): void;
  /** Asks anew what was stopped. */
  goOn(): void;
}

/** How a question is sent: given up with its signal; the server knows it by the window's name. */
export interface Sending {
  signal: AbortSignal;
  headers: Record<string, string>;
}

/** What takes longer than that is long, ms; and how often one asks how far it is. */
const LONG_MS = 300;
const ASK_MS = 400;

/**
 * `ask` is called whenever one of `of` changes; it throws what the server refuses, and gives null where there is nothing to ask. With
 * a `window` of its own a question that takes long can be watched and stopped.
 */
export function useTrial<T>(of: WatchSource<unknown>[], ask: (how: Sending) => Promise<T | null>, window = ""): Trial<T> {
  const answer = shallowRef<T | null>(null);
  const trouble = shallowRef("");
  const busy = shallowRef(false);
  const share = ref<number | null>(null);
  const stopped = ref(false);
  let again = false;
  let giveUp = () => {};
  let asked = 0;

  /** Watches a question that takes long, until what it gives back is called. */
  function watchOver(name: string): () => void {
    let ended = false;
    let timer: ReturnType<typeof setTimeout> | undefined;
    const look = async () => {
      if (again) return giveUp();
      const come = await progress(name);
      if (ended) return;
      share.value = come ?? share.value ?? 0;
      timer = setTimeout(() => void look(), ASK_MS);
    };
    if (window) timer = setTimeout(() => void look(), LONG_MS);
    return () => {
      ended = true;
      clearTimeout(timer);
      share.value = null;
    };
  }

  async function run() {
    if (busy.value) {
      again = true;
      if (share.value !== null) giveUp();
      return;
    }
    busy.value = true;
    do {
      again = false;
      stopped.value = false;
      const control = new AbortController();
      // a name for each: giving one up, late as that may arrive, leaves the next alone
      const name = window && `${window}-${++asked}`;
      giveUp = () => {
        control.abort();
        if (name) leave(name);
      };
      const end = watchOver(name);
      try {
        const got = await ask({ signal: control.signal, headers: name ? { "X-Fuoco-Window": name } : {} });
        if (!control.signal.aborted) {
          answer.value = got;
          trouble.value = "";
        }
      } catch (e) {
        // given up for the next question, or by hand: nothing is wrong
        if (!control.signal.aborted) trouble.value = e instanceof Refused ? e.problem.detail : "The server does not answer.";
      }
      end();
    } while (again as boolean);
    busy.value = false;
  }
  function stop() {
    if (!busy.value) return;
    again = false;
    stopped.value = true;
    giveUp();
  }
  watch(of, () => void run(), { immediate: true, deep: true });
  if (window && getCurrentScope()) onScopeDispose(stop);
  return { answer, trouble, old: computed(() => busy.value || trouble.value !== "" || stopped.value), share, stopped, stop, goOn: () => void run() };
}
