/**
 * Saving the open job. What the server has not acknowledged is also kept in the browser, so that neither a closed tab
 * nor a dead server loses an edit; nothing of another's is ever overwritten without being asked.
 */
import { reactive, type ShallowRef } from "vue";
import { answer, api, Refused, type Job, type Problem } from "../api/client";
import type { History } from "./document";
import { newSaveId, type Kept, type KeptStore } from "./kept";
import { mergeJobs, same, shared } from "./merge";

/**
 * `offline`: no answer; `failed`: the server says that it cannot (a full disk, a damaged store); `refused`: a field is
 * wrong; `conflict`: saved elsewhere; `gone`: deleted elsewhere.
 */
export type SaveState = "saved" | "saving" | "offline" | "failed" | "conflict" | "refused" | "gone";
export type Settlement = "copy" | "theirs" | "mine";

const SAVE_AFTER_MS = 350;
const KEEP_AFTER_MS = 80;
const RETRY_MS = [1000, 2000, 4000, 8000];
/** What browsers let a page send that is being left. */
const MOST_KEEPALIVE = 60_000;

/** One opening of a job: answers that come after it was closed touch nothing else. */
interface Session {
  id: string;
  revision: number;
  save: string;
  /** The document of that revision, where this window has seen it: with what it is compared when others have saved. */
  base?: Job;
  /** What was here before others' changes were taken in, until the server has taken what came of it. */
  before?: { job: Job; steps: History; base?: Job; revision: number; merged: Job };
  /** The document as it was when the job was closed. */
  left?: { job: Job; steps: History };
}

/** What saving needs of the document. */
export interface Held {
  history: () => History;
  /** Shows a document with steps that led to it. */
  show: (job: Job, steps: History) => void;
  /** Takes in others' changes. */
  rebase: (next: Job, through: (before: Job) => Job | null) => void;
}

export function createSync(job: ShallowRef<Job | null>, { history, show, rebase }: Held, kept: KeptStore) {
  const state = reactive({
    id: "",
    revision: 0,
    save: "saved" as SaveState,
    /** Why the server would not save it. */
    problem: null as Problem | null,
    /** Another revision was saved elsewhere and this one is not its child. */
    theirRevision: null as number | null,
    /** Where both changed the same, as paths of the job; empty where that is not known. */
    conflicts: [] as string[],
    /** How often others' changes were put together with edits that waited here: who looks on tells it. */
    tookIn: 0,
    /** The browser cannot keep what is not saved: its store is full or blocked. */
    nowhere: false,
  });
  let session: Session | null = null;
  let timer: ReturnType<typeof setTimeout> | undefined;
  let keepTimer: ReturnType<typeof setTimeout> | undefined;
  let running: Promise<void> | null = null;
  let retries = 0;
  const channel = typeof BroadcastChannel === "undefined" ? null : new BroadcastChannel("fuoco-saved");

  /** Begins with a job as the server has it, or as this browser kept it. */
  function begin(id: string, revision: number, served: Job, from?: Kept) {
    session = { id, revision: from?.revision ?? revision, save: from?.save ?? newSaveId() };
    if (session.revision === revision) session.base = served;
    Object.assign(state, { id, revision: session.revision, save: "saved", problem: null, theirRevision: null, conflicts: [], nowhere: false });
    retries = 0;
    // whether it is in already, follows what is stored, or has been overtaken: the server knows
    if (from?.unsaved) schedule(0);
  }

  /** Ends with the job; what is not saved yet goes off at once. */
  function end() {
    if (session && job.value) session.left = { job: job.value, steps: history() };
    flush();
    clearTimeout(timer);
    session = null;
    Object.assign(state, { id: "", revision: 0, save: "saved", problem: null, theirRevision: null, conflicts: [], nowhere: false });
  }

  /** The document has changed. */
  function changed() {
    keepSoon();
    if (state.save !== "conflict" && state.save !== "gone") schedule(SAVE_AFTER_MS);
  }

  /** Off the pointer's path: a drag changes the job at each of its steps. */
  function keepSoon() {
    keepTimer ??= setTimeout(() => void keep(), KEEP_AFTER_MS);
  }
  /** Whether it is kept. */
  async function keep(): Promise<boolean> {
    clearTimeout(keepTimer);
    keepTimer = undefined;
    if (!session || !job.value) return false;
    const of = session;
    const done = await kept.put({ id: of.id, revision: of.revision, save: of.save, job: job.value, unsaved: state.save !== "saved", ...history() });
    if (session === of) state.nowhere = !done;
    return done;
  }

  function schedule(after: number) {
    clearTimeout(timer);
    if (state.save === "saved" || state.save === "refused") state.save = "saving";
    timer = setTimeout(() => void save(), after);
  }

  /** The page, or the job, is being left: what is not saved is sent now, and kept should that not arrive. */
  function flush() {
    if (!session || !job.value || state.save === "saved") return;
    clearTimeout(timer);
    void keep();
    if (!running) void save(true);
  }

  async function save(leaving = false): Promise<void> {
    if (running) {
      await running;
      return save(leaving);
    }
    const sent = job.value;
    if (!session || !sent || state.save === "conflict" || state.save === "gone") return;
    running = send(session, sent, leaving);
    await running;
    running = null;
  }

  async function send(of: Session, sent: Job, leaving: boolean) {
    const steps = history();
    const at = of.revision;
    try {
      const keepalive = leaving && JSON.stringify(sent).length < MOST_KEEPALIVE;
      const saved = await answer(
        api.PUT("/api/jobs/{id}", { params: { path: { id: of.id }, query: { revision: of.revision, save: of.save } }, body: sent, keepalive }),
      );
      of.revision = saved.revision;
      of.save = newSaveId();
      of.base = sent;
      of.before = undefined;
      channel?.postMessage({ id: of.id, revision: of.revision });
      if (session !== of) {
        // closed meanwhile: what was edited during this save goes after it
        const last = of.left ?? { job: sent, steps };
        await kept.put({ id: of.id, revision: of.revision, save: of.save, job: last.job, unsaved: last.job !== sent, ...last.steps });
        if (last.job !== sent) await send(of, last.job, leaving);
        return;
      }
      retries = 0;
      Object.assign(state, { revision: of.revision, problem: null });
      state.save = job.value === sent ? "saved" : "saving";
      await keep();
      if (state.save === "saving") schedule(0);
    } catch (e) {
      if (session !== of) return;
      const status = e instanceof Refused ? e.problem.status : 0;
      if (status === 409 && (of.revision !== at || (await takeIn(of).catch(() => false)))) {
        if (session === of) schedule(0);
        return;
      }
      if (session !== of) return;
      // what came of both does not go together in a way that only the server knows: people settle it
      if (status === 422 && of.before && job.value === of.before.merged) {
        const { job: mine, steps, base, revision } = of.before;
        show(mine, steps);
        Object.assign(of, { base, before: undefined });
        Object.assign(state, { save: "conflict", theirRevision: of.revision, problem: null });
        of.revision = revision;
        state.revision = revision;
        return;
      }
      fail(e);
    }
  }

  /** With what this window began: seen here, or still in the job's history. */
  async function began(of: Session): Promise<Job | undefined> {
    if (of.base) return of.base;
    const path = { id: of.id, revision: of.revision };
    return (await answer(api.GET("/api/jobs/{id}/revisions/{revision}", { params: { path } })).catch(() => null))?.job as Job | undefined;
  }

  /**
   * Takes in what others have saved: where they and this window changed different parts, both stay; undo then takes back this
   * window's own edits only. False, and nothing changed, where both changed the same, or with what this one began is not known.
   */
  async function takeIn(of: Session): Promise<boolean> {
    const at = of.revision;
    const stored = await answer(api.GET("/api/jobs/{id}", { params: { path: { id: of.id } } }));
    const base = await began(of);
    // taken in meanwhile, by word of the save while this window was saving
    if (of.revision !== at) return true;
    if (stored.revision <= at) return false;
    const mine = job.value;
    if (session !== of || !mine || !base) return false;
    const theirs = shared(base, stored.job as Job);
    const { job: merged, conflicts } = mergeJobs(base, mine, theirs);
    state.conflicts = conflicts;
    if (conflicts.length) return false;
    accept(of, mine, merged, base, theirs, stored.revision);
    return true;
  }

  function accept(of: Session, mine: Job, merged: Job, base: Job, theirs: Job, revision: number) {
    of.before ??= { job: mine, steps: history(), base: of.base, revision: of.revision, merged };
    of.before.merged = merged;
    rebase(merged, (before) => {
      const through = mergeJobs(base, before, theirs);
      return through.conflicts.length ? null : through.job;
    });
    Object.assign(of, { base: theirs, revision, save: newSaveId() });
    state.revision = revision;
    // where nothing of mine was under way, there is nothing to tell
    if (!same(mine, base)) state.tookIn++;
  }

  /** Others have saved: their changes are shown at once where nothing of this window waits; else they are taken in when it saves. */
  async function others() {
    const of = session;
    if (!of || state.save !== "saved") return;
    const took = await takeIn(of).catch(() => false);
    if (!took || session !== of || !job.value) return;
    // edited while they were read: what came of both goes to the server
    if (same(job.value, of.base)) of.before = undefined;
    else schedule(0);
    await keep();
  }

  function fail(e: unknown) {
    const problem = e instanceof Refused ? e.problem : null;
    state.problem = problem;
    if (problem?.status === 409) {
      state.theirRevision = problem.current_revision ?? null;
      state.save = "conflict";
    } else if (problem?.status === 404) state.save = "gone";
    else if (problem && problem.status < 500) state.save = "refused";
    else {
      state.save = problem ? "failed" : "offline";
      clearTimeout(timer);
      timer = setTimeout(() => void save(), RETRY_MS[Math.min(retries++, RETRY_MS.length - 1)]);
    }
  }

  /** Tries again at once: the browser is online again, or the user asked. */
  function retry() {
    retries = 0;
    if (state.save === "offline" || state.save === "failed") schedule(0);
  }

  /** Adds a document as a job of its own; its id. */
  async function addCopy(mine: Job): Promise<string> {
    return (await answer(api.POST("/api/jobs/from-file", { body: { ...mine, name: `${mine.name} (my version)` } }))).id;
  }

  /**
   * Settles a stale edit as the user wants: mine as a new job, theirs, or mine over theirs (a job deleted elsewhere is
   * brought back for it). Returns the id of the job to show, empty for none; with `theirs` the caller opens it anew.
   */
  async function resolve(how: Settlement): Promise<string> {
    const of = session;
    if (!of || !job.value) return "";
    const gone = state.save === "gone";
    if (how === "copy") {
      const id = await addCopy(job.value);
      state.save = "saved";
      await kept.drop(of.id);
      return id;
    }
    if (how === "theirs") {
      state.save = "saved";
      await kept.drop(of.id);
      return gone ? "" : of.id;
    }
    if (gone) await answer(api.PUT("/api/jobs/{id}/restore", { params: { path: { id: of.id } } }));
    const stored = await answer(api.GET("/api/jobs/{id}", { params: { path: { id: of.id } } }));
    // mine where both changed the same; of the rest theirs stays
    const base = await began(of);
    if (base && !gone && job.value) {
      const theirs = shared(base, stored.job as Job);
      accept(of, job.value, mergeJobs(base, job.value, theirs).job, base, theirs, stored.revision);
    }
    of.revision = stored.revision;
    Object.assign(state, { revision: stored.revision, theirRevision: null, conflicts: [], save: "saving" });
    await keep();
    await save();
    return of.id;
  }

  return { state, begin, end, changed, keep, flush, save, retry, others, resolve, addCopy, channel };
}
