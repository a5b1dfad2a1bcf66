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
  kind: Subject["kind"] | "wall" | "mark";
  id: string;
  /** The wall, when one of a room is selected. */
  edge?: number;
  /** A place to point at. */
  at?: [number, number];
}

interface Kept {
  revision: number;
  /** Names the save that this was, or is to be, so that the server knows it again when its answer was lost. */
  save: string;
  job: Job;
}

const SAVE_AFTER_MS = 350;
const RETRY_MS = [1000, 2000, 4000, 8000];
const MOST_UNDO = 200;
/** Figures that are renewed within this time need no sign. */
const BEHIND_AFTER_MS = 200;
/** A design that has run this long is given up for the next edit's. */
const GIVE_UP_AFTER_MS = 1500;

/** Through JSON, as the job is saved: unlike a structured clone it also parts objects that two places of the job share. */
const copy = (job: Job): Job => JSON.parse(JSON.stringify(toRaw(job))) as Job;
const keepKey = (id: string) => `fuoco-unsaved-${id}`;
const newSaveId = () => Array.from(crypto.getRandomValues(new Uint8Array(12)), (b) => b.toString(16).padStart(2, "0")).join("");

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
    /** The figures shown belong to the job as it was before the last edits, and that for long enough to be told. */
    behind: false,
    /** Another revision was saved elsewhere and this one is not its child. */
    theirRevision: null as number | null,
    station: "rooms" as Station,
    /** The level on the sheet. */
    level: "",
    /** What an edit that the server makes (split, merge, import) could not do. */
    refusal: "",
    selection: null as Selection | null,
    undoDepth: 0,
    redoDepth: 0,
  });
  let undoStack: { job: Job; label: string; merge?: string }[] = [];
  let redoStack: { job: Job; label: string }[] = [];
  let saveTimer: ReturnType<typeof setTimeout> | undefined;
  let saving: Promise<void> | null = null;
  let saveId = newSaveId();
  let retries = 0;
  let wantedDesign = 0;
  let shownDesign = 0;
  let designRunning = false;
  let behindTimer: ReturnType<typeof setTimeout> | undefined;
  /** The design that is worked on, and since when. */
  let asked: { since: number; abort: AbortController } | null = null;

  const units = computed(() => job.value?.site.units ?? "metric");
  const level = computed(() => job.value?.levels.find((l) => l.id === state.level) ?? job.value?.levels[0] ?? null);
  /** The job and the design as far as they lie on the level that the sheet shows. */
  const levelJob = computed<Job | null>(() => {
    const all = job.value;
    const id = level.value?.id;
    if (!all) return null;
    const rooms = all.rooms.filter((r) => r.level_id === id);
    const on = new Set(rooms.map((r) => r.id));
    return { ...all, rooms, manifolds: all.manifolds.filter((m) => on.has(m.room_id)), marks: all.marks.filter((m) => m.level_id === id) };
  });
  /** Rooms of the storey below the one shown: the next is drawn over them. */
  const roomsBelow = computed(() => {
    const floor = (l: { floor_m?: number } | null) => l?.floor_m ?? 0;
    const lower = (job.value?.levels ?? []).filter((l) => floor(l) < floor(level.value)).sort((a, b) => floor(b) - floor(a))[0];
    return lower ? job.value!.rooms.filter((r) => r.level_id === lower.id) : [];
  });
  const levelDesign = computed<Design | null>(() => {
    const all = design.value;
    const on = new Set(levelJob.value?.rooms.map((r) => r.id));
    if (!all) return null;
    return {
      ...all,
      rooms: all.rooms.filter((r) => on.has(r.id)),
      walls: all.walls.filter((w) => on.has(w.room_id)),
      outlines: all.outlines.filter((o) => on.has(o.room_id)),
      loops: all.loops.filter((l) => l.room_ids.some((id) => on.has(id))),
      manifolds: all.manifolds.filter((m) => m.level_id === level.value?.id || m.risers.some((r) => r.level_id === level.value?.id)),
    };
  });

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
      restoreKept(id, job.value);
      state.level = lowestWithRooms();
      requestDesign();
    } catch (e) {
      state.loadError = e instanceof Refused ? e.message : "Fuoco's server does not answer. Is it running?";
    } finally {
      state.loading = false;
    }
  }

  /** A job opens on its lowest storey above ground that has rooms. */
  function lowestWithRooms(): string {
    const levels = [...(job.value?.levels ?? [])].sort((a, b) => (a.floor_m ?? 0) - (b.floor_m ?? 0));
    const used = levels.filter((l) => job.value?.rooms.some((r) => r.level_id === l.id));
    return (used.find((l) => (l.floor_m ?? 0) > -1) ?? used[0] ?? levels[0])?.id ?? "";
  }

  /** Picks up what an earlier tab could not save. */
  function restoreKept(id: string, stored: Job) {
    const text = localStorage.getItem(keepKey(id));
    if (!text) return;
    try {
      const kept = JSON.parse(text) as Kept;
      if (kept.job.version !== stored.version) {
        // kept by an older Fuoco: the server brings it to this version, on its way into the store
        void bringUp(id, kept);
        return;
      }
      job.value = kept.job;
      state.revision = kept.revision;
      saveId = kept.save ?? newSaveId();
      // whether it is in already, follows what is stored, or has been overtaken: the server knows
      scheduleSave(0);
    } catch {
      localStorage.removeItem(keepKey(id));
    }
  }

  async function bringUp(id: string, kept: Kept) {
    try {
      await answer(api.PUT("/api/jobs/{id}", { params: { path: { id }, query: { revision: kept.revision } }, body: kept.job }));
    } catch (e) {
      if (!(e instanceof Refused)) return;
      const added = await answer(api.POST("/api/jobs/from-file", { body: { ...kept.job, name: `${kept.job.name} (my version)` } })).catch(() => null);
      if (!added) return;
    }
    localStorage.removeItem(keepKey(id));
    if (state.id === id) await open(id);
  }

  function close() {
    clearTimeout(saveTimer);
    undoStack = [];
    redoStack = [];
    job.value = null;
    design.value = null;
    wantedDesign = shownDesign = 0;
    caughtUp();
    Object.assign(state, {
      level: "", refusal: "",
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

  /**
   * An edit whose geometry the server works out: `ask` gets the job as it is and answers the job after. It is taken only
   * if nothing else was changed meanwhile; a refusal is shown.
   */
  async function editThere<T>(label: string, ask: (before: Job) => Promise<T>, after: (got: T) => Job): Promise<T | null> {
    const before = job.value;
    if (!before) return null;
    state.refusal = "";
    try {
      const got = await ask(before);
      if (job.value !== before) {
        state.refusal = "The job changed while this was worked out: try it again.";
        return null;
      }
      const next = after(got);
      edit(label, (draft) => Object.assign(draft, next));
      return got;
    } catch (e) {
      state.refusal = e instanceof Refused ? e.message : "Fuoco's server does not answer. Is it running?";
      return null;
    }
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
      localStorage.setItem(keepKey(state.id), JSON.stringify({ revision: state.revision, save: saveId, job: job.value } satisfies Kept));
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
          api.PUT("/api/jobs/{id}", { params: { path: { id }, query: { revision: state.revision, save: saveId } }, body: sent }),
        );
        if (state.id !== id) return;
        retries = 0;
        saveId = newSaveId();
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
    behindTimer ??= setTimeout(() => (state.behind = true), BEHIND_AFTER_MS);
    if (!designRunning) void runDesign();
    // quick designs come back before the next edit does; of slow ones only the newest is of use
    else if (asked && performance.now() - asked.since > GIVE_UP_AFTER_MS) asked.abort.abort();
  }

  /** The figures are those of the job as it stands, or there are none. */
  function caughtUp() {
    clearTimeout(behindTimer);
    behindTimer = undefined;
    state.behind = false;
  }

  /** Designs the newest job; edits made meanwhile are designed next, older answers are dropped. */
  async function runDesign() {
    designRunning = true;
    while (job.value && shownDesign < wantedDesign) {
      const number = wantedDesign;
      const id = state.id;
      state.designing = true;
      try {
        asked = { since: performance.now(), abort: new AbortController() };
        const got = await answer(api.POST("/api/design", { body: job.value, signal: asked.abort.signal }));
        if (state.id !== id) continue;
        design.value = got;
        state.designProblem = null;
        state.designOffline = false;
      } catch (e) {
        if (state.id !== id || asked?.abort.signal.aborted) continue;
        if (e instanceof Refused) state.designProblem = e.problem;
        else {
          state.designOffline = true;
          await new Promise((resolve) => setTimeout(resolve, 1500));
          if (number === wantedDesign) continue;
        }
      }
      shownDesign = number;
    }
    caughtUp();
    state.designing = false;
    designRunning = false;
  }

  /** Chooses a thing and turns to its level. */
  function select(selection: Selection | null) {
    state.selection = selection;
    const all = job.value;
    if (!selection || !all) return;
    const { id } = selection;
    const loop = design.value?.loops.find((l) => l.id === id);
    const room = all.rooms.find((r) => r.id === id || r.id === loop?.room_ids[0] || r.openings.some((o) => o.id === id) || r.keep_outs.some((k) => k.id === id));
    const hung = all.rooms.find((r) => r.id === all.manifolds.find((m) => m.id === id)?.room_id);
    const on = (room ?? hung)?.level_id ?? all.marks.find((m) => m.id === id)?.level_id;
    if (on) state.level = on;
  }

  /** Whether what is chosen can be deleted: walls and loops come and go with their rooms. */
  const deletable = computed(() => ["room", "opening", "keep_out", "manifold", "mark"].includes(state.selection?.kind ?? ""));

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

  return { job, design, library, state, units, level, levelJob, roomsBelow, levelDesign, editThere, open, close, edit, settle, undo, redo, save, retry, select, deletable, removeSelected, resolveConflict };
}

export const store = createJobStore();
export type JobStore = typeof store;
