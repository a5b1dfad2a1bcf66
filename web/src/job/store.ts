/**
 * The open job, put together from its four parts: the document with undo (`document.ts`), saving (`sync.ts`), the design
 * (`designs.ts`), and where one is in it (`selection.ts`).
 */
import { computed, reactive, shallowRef, watch } from "vue";
import { answer, api, Refused, Unreachable, type Job, type Library } from "../api/client";
import { shelf } from "../offline/shelf";
import { createDesigns } from "./designs";
import { createDocument } from "./document";
import { remove } from "./edit";
import { createKept, type Kept } from "./kept";
import { createSelection } from "./selection";
import { createLive } from "./live";
import { createSync, type Settlement } from "./sync";
import { told } from "./told";
import { viewerUnits } from "./viewer";
import { useSession } from "../people/session";

export type { Selection } from "./selection";

/** Jobs are put by to read without a network when nothing has happened for so long. */
const SHELVE_AFTER_MS = 1500;

function createJobStore() {
  const { load, mayChange, needed } = useSession();
  const library = shallowRef<Library | null>(null);
  const state = reactive({
    id: "",
    loading: false,
    loadError: null as string | null,
    /** What an edit that the server makes (split, merge, import) could not do. */
    refusal: "",
    /** There is no network: this is the job as this browser kept it then (ms), for reading. */
    offlineSince: null as number | null,
    /** How often an edit was tried by whoever may only read. */
    locked: 0,
  });
  const document = createDocument(() => {
    sync.changed();
    designs.request();
  }, () => !mayChange.value || state.offlineSince !== null, () => state.locked++);
  const { job } = document;
  const units = viewerUnits(job);
  /** The job in the viewer's units: findings and remedies are worded in them. */
  const seen = (j: Job): Job => (j.site.units === units.value ? j : { ...j, site: { ...j.site, units: units.value } });
  const kept = createKept();
  const sync = createSync(
    job,
    {
      history: document.history,
      // the figures follow whatever is shown
      show: (next, steps) => (document.show(next, steps), designs.request()),
      rebase: (next, through) => (document.rebase(next, through), designs.request()),
    },
    kept,
  );
  const live = createLive((revision) => {
    if (revision === null || revision > sync.state.revision) void sync.others();
  });
  const designs = createDesigns(job, seen);
  const selection = createSelection(job, designs.design);
  /** What the server says of fields that it does not take. */
  const refusals = computed(() => [sync.state.problem, designs.state.problem].filter((p) => p?.field).map((p) => p!));
  watch(units, () => job.value && designs.request(), { flush: "sync" });
  sync.channel?.addEventListener("message", (e: MessageEvent<{ id: string; revision: number }>) => {
    if (e.data.id === state.id && e.data.revision > sync.state.revision) void refresh();
  });

  // a job whose figures belong to what is saved is one to read without a network
  let shelving: ReturnType<typeof setTimeout> | undefined;
  watch(
    () => designs.current.value && sync.state.save === "saved" && state.offlineSince === null && state.id,
    (id) => {
      clearTimeout(shelving);
      if (id) shelving = setTimeout(() => void shelve(id), SHELVE_AFTER_MS);
    },
  );
  const shelve = (id: string) =>
    state.id === id && job.value && designs.current.value ? shelf.put({ id, revision: sync.state.revision, job: job.value, design: designs.design.value ?? undefined }) : undefined;

  /** No network: the job as it was here last, and what of it waits to be saved. */
  async function openShelved(id: string, e: unknown) {
    const was = e instanceof Unreachable ? await shelf.get(id) : undefined;
    library.value ??= (await shelf.thing("library")) ?? null;
    if (!was || !library.value || state.id !== id) throw e;
    const unsaved = (await kept.left(id)).own;
    const shown = unsaved?.unsaved ? unsaved.job : was.job;
    state.offlineSince = was.at;
    document.show(shown);
    designs.show(was.design, was.job);
    selection.begin();
  }

  /** `back`: the same job, which was opened without a network, stays on the screen until the server's is here. */
  async function open(id: string, back = false) {
    if (!back) close();
    state.id = id;
    state.loading = !back;
    state.loadError = null;
    try {
      // who one is decides what may be done: it is known before the job is shown
      await load().catch(() => null);
      if (!library.value) {
        library.value = (await answer(api.GET("/api/library"))) as Library;
        void shelf.putThing("library", library.value);
      }
      const read = () => answer(api.GET("/api/jobs/{id}", { params: { path: { id } } }));
      let stored = await read();
      const left = await kept.left(id);
      if (state.id !== id) return;
      const { from, sent } = await takeUp(stored.job as Job, stored.revision, left.own, left.others);
      if (sent) stored = await read();
      if (state.id !== id) return;
      const served = stored.job as Job;
      state.offlineSince = null;
      document.show(from?.unsaved ? from.job : served, from && { past: from.past, future: from.future });
      sync.begin(id, stored.revision, served, from?.unsaved ? from : undefined);
      if (needed.value) live.begin(id);
      // what another tab left is dropped there when it is kept here, not before
      if (from && from !== left.own) void sync.keep().then((done) => (done ? kept.drop(id, from.tab) : undefined));
      if (!back) selection.begin();
      designs.request();
    } catch (e) {
      // the network is gone again: what is shown stays
      if (back && e instanceof Unreachable) return;
      const failed = await openShelved(id, e).then(() => null, (why: unknown) => why);
      if (failed && e instanceof Refused) void shelf.drop(id);
      if (failed && state.id === id) state.loadError = told(failed);
    } finally {
      if (state.id === id) state.loading = false;
    }
  }

  /**
   * What this browser kept of the job: this tab's record, or what a closed tab left unsaved. Of several unsaved ones the
   * newest is shown; the others go to the server, as later revisions or as jobs of their own: `sent` says so.
   */
  async function takeUp(stored: Job, revision: number, own: Kept | undefined, others: Kept[]): Promise<{ from?: Kept; sent: boolean }> {
    const unsaved = [...(own?.unsaved ? [own] : []), ...others];
    const [shown, ...rest] = unsaved.filter((k) => k.job.version === stored.version);
    // kept by an older Fuoco: the server brings it to this version, on its way into the store
    const older = unsaved.filter((k) => k.job.version !== stored.version);
    for (const k of [...rest, ...older]) {
      try {
        await answer(api.PUT("/api/jobs/{id}", { params: { path: { id: k.id }, query: { revision: k.revision, save: k.save } }, body: k.job }));
      } catch (e) {
        if (!(e instanceof Refused)) continue;
        if (!(await sync.addCopy(k.job).catch(() => ""))) continue;
      }
      await kept.drop(k.id, k.tab);
    }
    if (shown) return { from: shown, sent: false };
    return { from: own && !own.unsaved && own.revision === revision ? own : undefined, sent: older.length > 0 };
  }

  /** Opened without a network: is there one now? */
  async function comeBack() {
    const { id, offlineSince } = state;
    if (offlineSince === null) return;
    const reached = await answer(api.GET("/api/health")).then(() => true, () => false);
    if (reached && state.id === id && state.offlineSince === offlineSince) await open(id, true);
  }

  /** Takes up what was saved elsewhere, where nothing of ours waits to be saved. */
  async function refresh() {
    if (state.id && job.value) await sync.others();
  }

  function close() {
    live.end();
    sync.end();
    document.show(null);
    designs.clear();
    selection.begin();
    clearTimeout(shelving);
    Object.assign(state, { id: "", refusal: "", loading: false, offlineSince: null });
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
      document.edit(label, (draft) => Object.assign(draft, next));
      return got;
    } catch (e) {
      state.refusal = told(e);
      return null;
    }
  }

  function removeSelected() {
    const chosen = selection.state.selection;
    if (!chosen || !selection.deletable.value) return;
    document.edit(`delete ${chosen.kind.replace("_", "-")}`, (j) => remove(j, chosen.kind, chosen.id));
    selection.state.selection = null;
  }

  /** Settles a stale edit. Returns the id of the job to show, empty for none. */
  async function resolveConflict(how: Settlement): Promise<string> {
    const id = await sync.resolve(how);
    if (how === "theirs" && id) await open(id);
    return id;
  }

  return {
    state, library, units, seen,
    job, edit: document.edit, settle: document.settle, undo: document.undo, redo: document.redo, undoLabel: document.undoLabel, redoLabel: document.redoLabel,
    design: designs.design, designs,
    sync, live, refusals,
    where: selection.state, level: selection.level, levelJob: selection.levelJob, levelDesign: selection.levelDesign, roomsBelow: selection.roomsBelow,
    select: selection.select, deletable: selection.deletable,
    open, close, refresh, comeBack, editThere, removeSelected, resolveConflict,
  };
}

export const store = createJobStore();
export type JobStore = typeof store;
