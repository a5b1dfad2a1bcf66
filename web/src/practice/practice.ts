/** The practice rig: a lesson that runs, its clock, what was done, and what this browser keeps of it. */
import { useIntervalFn, useLocalStorage } from "@vueuse/core";
import { computed, reactive, ref, shallowRef, watch, type ComputedRef } from "vue";
import { answer, api, Refused, type Job, type LessonText, type RigHand, type RigLesson, type RigNow, type RigPlayed, type RigTrial, type Units } from "../api/client";

export interface Done {
  moves: number;
  best: number;
  hints: number;
  at_s: number;
}
/** A lesson under way: enough to go on after a reload. */
export interface Running {
  trial: RigTrial;
  hints: number;
  /** The job that it is played on; none for the practice house. */
  jobId: string;
}

export const SPEEDS = [
  { value: 0, label: "Stopped" },
  { value: 60, label: "1 min/s" },
  { value: 600, label: "10 min/s" },
  { value: 3600, label: "1 h/s" },
];
const TICK_MS = 500;
const LONGEST_S = 864_000;

/** Fewer moves is better, then fewer hints; the better of the two is kept. */
export const better = (a: Done | undefined, b: Done): Done => (!a || b.moves < a.moves || (b.moves === a.moves && b.hints < a.hints) ? b : a);

/** A setting that is moved on replaces the one before it where no time has passed: a hand that drags makes one move. */
export function withMove(trial: RigTrial, hand: RigHand): RigTrial {
  const moves = [...(trial.moves ?? [])];
  const last = moves.at(-1);
  const same = last && last.at_s === trial.now_s && last.hand.what === hand.what && ("port" in last.hand ? last.hand.port : 0) === ("port" in hand ? hand.port : 0) && !["vent", "mixer", "tails"].includes(hand.what);
  if (same) moves.pop();
  moves.push({ at_s: trial.now_s, hand });
  return { ...trial, moves };
}

export const clock = (s: number) => `day ${Math.floor(s / 86_400) + 1}, ${String(Math.floor((s % 86_400) / 3600)).padStart(2, "0")}:${String(Math.floor((s % 3600) / 60)).padStart(2, "0")}`;

export function usePractice(units: ComputedRef<Units>) {
  const lessons = shallowRef<LessonText[]>([]);
  const version = ref(0);
  const progress = useLocalStorage<Record<string, Done>>("fuoco-practice-done", {});
  const running = useLocalStorage<Running | null>("fuoco-practice", null, { serializer: { read: (v) => JSON.parse(v) as Running | null, write: (v) => JSON.stringify(v) } });
  const now = shallowRef<RigNow | null>(null);
  const state = reactive({ trouble: "", speed: 60, busy: false });
  const job = shallowRef<Job | null>(null);

  async function load() {
    try {
      const all = await answer(api.GET("/api/rig"));
      [lessons.value, version.value] = [all.lessons, all.version];
    } catch (e) {
      state.trouble = e instanceof Refused ? e.problem.detail : "The server does not answer.";
    }
  }
  const lesson = computed(() => lessons.value.find((l) => l.lesson === running.value?.trial.lesson) ?? null);

  /** What the server is asked of the lesson as it stands. */
  const played = (of: Running): RigPlayed => ({ job: of.jobId ? (job.value as never) : undefined, trial: { ...of.trial, units: units.value } });

  let again = false;
  async function ask() {
    if (state.busy) return void (again = true);
    state.busy = true;
    do {
      again = false;
      const asked = running.value;
      if (!asked || (asked.jobId && !job.value)) break;
      try {
        const told = await answer(api.POST("/api/rig", { body: played(asked) }));
        if (running.value?.trial.lesson !== asked.trial.lesson || running.value.trial.seed !== asked.trial.seed || running.value.jobId !== asked.jobId) again = true;
        else {
          now.value = told;
          state.trouble = "";
          if (told.debrief) finished(asked, told.debrief);
        }
      } catch (e) {
        state.trouble = e instanceof Refused ? e.problem.detail : "The server does not answer.";
      }
    } while (again as boolean);
    state.busy = false;
  }
  function finished(asked: Running, d: NonNullable<RigNow["debrief"]>) {
    const { lesson: which } = asked.trial;
    progress.value = { ...progress.value, [which]: better(progress.value[which], { moves: d.moves, best: d.best, hints: asked.hints, at_s: d.at_s }) };
  }
  watch(() => JSON.stringify(running.value?.trial ?? null), () => void ask());

  async function begin(which: RigLesson, jobId: string, seed = Math.floor(Math.random() * 1000)) {
    now.value = null;
    job.value = null;
    running.value = { trial: { lesson: which, version: version.value, seed, moves: [], now_s: 60 }, hints: 0, jobId };
    if (jobId) await open(jobId);
  }
  async function open(jobId: string) {
    try {
      job.value = (await answer(api.GET("/api/jobs/{id}", { params: { path: { id: jobId } } }))).job as Job;
      void ask();
    } catch (e) {
      state.trouble = e instanceof Refused ? e.problem.detail : "The server does not answer.";
    }
  }
  function move(hand: RigHand) {
    if (running.value && !now.value?.debrief) running.value = { ...running.value, trial: withMove(running.value.trial, hand) };
  }
  function hint() {
    if (running.value && running.value.hints < 3) running.value = { ...running.value, hints: running.value.hints + 1 };
  }
  function wait(seconds: number) {
    if (running.value) running.value = { ...running.value, trial: { ...running.value.trial, now_s: Math.min(LONGEST_S, running.value.trial.now_s + seconds) } };
  }
  function leave() {
    running.value = null;
    now.value = null;
    state.trouble = "";
  }
  // what is not answered yet is not left behind: time waits for the server
  useIntervalFn(() => {
    if (running.value && now.value && !now.value.debrief && !state.trouble && !state.busy && state.speed > 0) wait((state.speed * TICK_MS) / 1000);
  }, TICK_MS);
  return { lessons, progress, running, lesson, now, state, load, open, ask, begin, move, hint, wait, leave, played };
}
