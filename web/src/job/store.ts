/**
 * The open job: one document with undo, saved as it changes, designed as it changes.
 *
 * Every edit replaces the document by a changed copy. Unsaved copies are also kept in the browser until the server
 * has answered, so that neither a closed tab nor a dead server loses an edit.
 */
import { computed, reactive, shallowRef, toRaw } from "vue";
import { answer, api, Refused, type Design, type Job, type Library, type Problem, type Station, type Subject } from "../api/client";
import { remove } from "./edit";

export type SaveState = "saved" | "saving" | "offline" | "conflict" | "refused";

export interface Selection {
  kind: Subject["kind"] | "wall";
  id: string;
  /** The wall, when one of a room is selected. */
  edge?: number;
  /** A place to point at. */
  at?: [number, number];
}

interface Kept {
  revision: number;
  job: Job;
}

const SAVE_AFTER_MS = 350;
const RETRY_MS = [1000, 2000, 4000, 8000];
const MOST_UNDO = 200;

const copy = (job: Job): Job => structuredClone(toRaw(job));
const keepKey = (id: string) => `fuoco-unsaved-${id}`;

function createJobStore() {
  const job = shallowRef<Job | null>(null);
  const design = shallowRef<Design | null>(null);
  const library = shallowRef<Library | null>(null);
  const state = reactive({
    id: "",
    revision: 0,
    loading: false,
    loadError: null as string | null,
    save: "saved" as SaveState,
    problem: null as Problem | null,
    designProblem: null as Problem | null,
    designOffline: false,
    designing: false,
    /** Another revision was saved elsewhere and this one is not its child. */
    theirRevision: null as number | null,
    station: "rooms" as Station,
    selection: null as Selection | null,
    undoDepth: 0,
    redoDepth: 0,
  });
  let undoStack: { job: Job; label: string; merge?: string }[] = [];
  let redoStack: { job: Job; label: string }[] = [];
  let saveTimer: ReturnType<typeof setTimeout> | undefined;
  let saving: Promise<void> | null = null;
  let retries = 0;
  let wantedDesign = 0;
  let shownDesign = 0;
  let designRunning = false;

  const units = computed(() => job.value?.site.units ?? "metric");

  async function open(id: string) {
    close();
    state.id = id;
    state.loading = true;
    state.loadError = null;
    try {
      library.value ??= (await answer(api.GET("/api/library"))) as Library;
      const stored = await answer(api.GET("/api/jobs/{id}", { params: { path: { id } } }));
      if (state.id !== id) return;
      state.revision = stored.revision;
      job.value = stored.job as Job;
      restoreKept(id);
      requestDesign();
    } catch (e) {
      state.loadError = e instanceof Refused ? e.message : "Fuoco's server does not answer. Is it running?";
    } finally {
      state.loading = false;
    }
  }

  /** Picks up what an earlier tab could not save. */
  function restoreKept(id: string) {
    const text = localStorage.getItem(keepKey(id));
    if (!text) return;
    try {
      const kept = JSON.parse(text) as Kept;
      job.value = kept.job;
      if (kept.revision === state.revision) scheduleSave(0);
      else {
        state.theirRevision = state.revision;
        state.revision = kept.revision;
        state.save = "conflict";
      }
    } catch {
      localStorage.removeItem(keepKey(id));
    }
  }

  function close() {
    clearTimeout(saveTimer);
    undoStack = [];
    redoStack = [];
    job.value = null;
    design.value = null;
    wantedDesign = shownDesign = 0;
    Object.assign(state, {
      id: "", revision: 0, save: "saved", problem: null, designProblem: null, theirRevision: null, selection: null, undoDepth: 0, redoDepth: 0,
    });
  }

  /**
   * Changes the job. Edits with the same `merge` key in a row are one step of undo (a drag, a field being typed).
   */
  function edit(label: string, change: (draft: Job) => void, merge?: string) {
    if (!job.value) return;
    const draft = copy(job.value);
    change(draft);
    if (!merge || undoStack.at(-1)?.merge !== merge) undoStack.push({ job: job.value, label, merge });
    if (undoStack.length > MOST_UNDO) undoStack.shift();
    redoStack = [];
    put(draft);
  }

  /** Ends a merged edit, so that the next one is a step of its own. */
  function settle() {
    const last = undoStack.at(-1);
    if (last) last.merge = undefined;
  }

  function undo() {
    const last = undoStack.pop();
    if (!last || !job.value) return;
    redoStack.push({ job: job.value, label: last.label });
    put(last.job);
  }

  function redo() {
    const next = redoStack.pop();
    if (!next || !job.value) return;
    undoStack.push({ job: job.value, label: next.label });
    put(next.job);
  }

  function put(next: Job) {
    job.value = next;
    state.undoDepth = undoStack.length;
    state.redoDepth = redoStack.length;
    keep();
    requestDesign();
    if (state.save !== "conflict") scheduleSave(SAVE_AFTER_MS);
  }

  function keep() {
    if (!job.value) return;
    try {
      localStorage.setItem(keepKey(state.id), JSON.stringify({ revision: state.revision, job: job.value } satisfies Kept));
    } catch {
      // the browser's store is full or off: the server's copy is the one that counts
    }
  }

  function scheduleSave(after: number) {
    clearTimeout(saveTimer);
    state.save = state.save === "offline" ? "offline" : "saving";
    saveTimer = setTimeout(() => void save(), after);
  }

  async function save() {
    if (saving) {
      await saving;
      return save();
    }
    const sent = job.value;
    if (!sent || state.save === "conflict") return;
    const id = state.id;
    saving = (async () => {
      try {
        const saved = await answer(
          api.PUT("/api/jobs/{id}", { params: { path: { id }, query: { revision: state.revision } }, body: sent }),
        );
        if (state.id !== id) return;
        retries = 0;
        state.revision = saved.revision;
        state.problem = null;
        if (job.value === sent) {
          state.save = "saved";
          localStorage.removeItem(keepKey(id));
        } else {
          keep();
          scheduleSave(0);
        }
      } catch (e) {
        if (state.id !== id) return;
        if (e instanceof Refused && e.problem.status === 409) {
          state.theirRevision = e.problem.current_revision ?? null;
          state.save = "conflict";
        } else if (e instanceof Refused && e.problem.status < 500) {
          state.problem = e.problem;
          state.save = "refused";
        } else {
          state.save = "offline";
          clearTimeout(saveTimer);
          saveTimer = setTimeout(() => void save(), RETRY_MS[Math.min(retries++, RETRY_MS.length - 1)]);
        }
      }
    })();
    await saving;
    saving = null;
  }

  /** Settles a stale edit as the user wants: mine as a new job, theirs, or mine over theirs. Returns the job to show. */
  async function resolveConflict(how: "copy" | "theirs" | "mine"): Promise<string> {
    const id = state.id;
    if (how === "copy" && job.value) {
      const mine = copy(job.value);
      mine.name = `${mine.name} (my version)`;
      const added = await answer(api.POST("/api/jobs/from-file", { body: mine }));
      localStorage.removeItem(keepKey(id));
      return added.id;
    }
    if (how === "theirs") {
      localStorage.removeItem(keepKey(id));
      await open(id);
    } else {
      const stored = await answer(api.GET("/api/jobs/{id}", { params: { path: { id } } }));
      state.revision = stored.revision;
      state.theirRevision = null;
      state.save = "saving";
      keep();
      await save();
    }
    return id;
  }

  function requestDesign() {
    wantedDesign++;
    if (!designRunning) void runDesign();
  }

  /** Designs the newest job; edits made meanwhile are designed next, older answers are dropped. */
  async function runDesign() {
    designRunning = true;
    while (job.value && shownDesign < wantedDesign) {
      const number = wantedDesign;
      const id = state.id;
      state.designing = true;
      try {
        const got = await answer(api.POST("/api/design", { body: job.value }));
        if (state.id !== id) continue;
        design.value = got;
        state.designProblem = null;
        state.designOffline = false;
      } catch (e) {
        if (state.id !== id) continue;
        if (e instanceof Refused) state.designProblem = e.problem;
        else {
          state.designOffline = true;
          await new Promise((resolve) => setTimeout(resolve, 1500));
          if (number === wantedDesign) continue;
        }
      }
      shownDesign = number;
    }
    state.designing = false;
    designRunning = false;
  }

  function select(selection: Selection | null) {
    state.selection = selection;
  }

  /** Whether what is chosen can be deleted: walls and loops come and go with their rooms. */
  const deletable = computed(() => ["room", "opening", "keep_out", "manifold"].includes(state.selection?.kind ?? ""));

  function removeSelected() {
    const chosen = state.selection;
    if (!chosen || !deletable.value) return;
    edit(`delete ${chosen.kind}`, (j) => remove(j, chosen.kind, chosen.id));
    state.selection = null;
  }

  /** Tries again at once: the browser is online again, or the user asked. */
  function retry() {
    retries = 0;
    if (state.save === "offline") scheduleSave(0);
  }

  return { job, design, library, state, units, open, close, edit, settle, undo, redo, save, retry, select, deletable, removeSelected, resolveConflict };
}

export const store = createJobStore();
export type JobStore = typeof store;
