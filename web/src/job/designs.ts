/**
 * The design of the open job, asked for as it changes. Each answer belongs to one document: while a newer one is being
 * worked on, what is shown is told to be old.
 */
import { computed, reactive, ref, shallowRef, type ShallowRef } from "vue";
import { answer, api, Refused, type Design, type Job, type Problem } from "../api/client";

/** Figures that are renewed within this time need no sign. */
const BEHIND_AFTER_MS = 200;
/** A design that has run this long is given up for the next edit's. */
const GIVE_UP_AFTER_MS = 1500;
const RETRY_MS = 1500;

/** `seen`: the job as this viewer reads it, in his units. */
export function createDesigns(job: ShallowRef<Job | null>, seen: (job: Job) => Job) {
  const design = shallowRef<Design | null>(null);
  const state = reactive({
    /** Why the server would not design it; the design shown is then of an older document. */
    problem: null as Problem | null,
    offline: false,
    /** The figures shown belong to the job as it was before the last edits, and that for long enough to be told. */
    behind: false,
  });
  const wanted = ref(0);
  const shown = ref(0);
  /** The document of the design shown. */
  const of = shallowRef<Job | null>(null);
  let run: { since: number; abort: AbortController } | null = null;
  let behindTimer: ReturnType<typeof setTimeout> | undefined;
  const waiting: (() => void)[] = [];

  /** The newest document has its answer. */
  const settled = computed(() => shown.value === wanted.value);
  /** The figures are those of the job as it stands. */
  const current = computed(() => of.value !== null && of.value === job.value && !state.problem);

  function request() {
    wanted.value++;
    behindTimer ??= setTimeout(() => (state.behind = true), BEHIND_AFTER_MS);
    if (!run) void work();
    // quick designs come back before the next edit does; of slow ones only the newest is of use
    else if (performance.now() - run.since > GIVE_UP_AFTER_MS) run.abort.abort();
  }

  function caughtUp() {
    clearTimeout(behindTimer);
    behindTimer = undefined;
    state.behind = false;
    for (const go of waiting.splice(0)) go();
  }

  /** Designs the newest job; edits made meanwhile are designed next, older answers are dropped. */
  async function work() {
    const mine = { since: performance.now(), abort: new AbortController() };
    run = mine;
    while (run === mine && job.value && !settled.value) {
      const number = wanted.value;
      const asked = job.value;
      mine.since = performance.now();
      mine.abort = new AbortController();
      try {
        const got = await answer(api.POST("/api/design", { body: seen(asked), signal: mine.abort.signal }));
        if (run !== mine) return;
        design.value = got;
        of.value = asked;
        state.problem = null;
        state.offline = false;
      } catch (e) {
        if (run !== mine) return;
        if (mine.abort.signal.aborted) continue;
        // a server that stops has found nothing wrong
        if (e instanceof Refused && e.problem.status !== 503) {
          state.problem = e.problem;
          state.offline = false;
        } else {
          state.offline = true;
          await new Promise((resolve) => setTimeout(resolve, RETRY_MS));
          continue;
        }
      }
      shown.value = number;
    }
    if (run !== mine) return;
    run = null;
    caughtUp();
  }

  /** Shows a design that was calculated before, of that document; it is told to be old where that is not the one shown. */
  function show(was: Design | undefined, asked: Job) {
    design.value = was ?? null;
    of.value = was ? asked : null;
    state.behind = was !== undefined && asked !== job.value;
  }

  /** Another job is opened, or none: whatever is on its way is of no use. */
  function clear() {
    run?.abort.abort();
    run = null;
    design.value = null;
    of.value = null;
    wanted.value = shown.value = 0;
    Object.assign(state, { problem: null, offline: false });
    caughtUp();
  }

  /** Waits until the design is that of the job as it stands; whether it came to that. */
  async function whenCurrent(): Promise<boolean> {
    while (!current.value && !settled.value) await new Promise<void>((resolve) => waiting.push(resolve));
    return current.value;
  }

  return { design, state, settled, current, request, show, clear, whenCurrent };
}
