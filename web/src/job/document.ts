/**
 * The job as a document: every edit makes a changed copy that shares what has not changed with the one before, so that
 * undo is a list of documents and costs next to nothing.
 */
import { create } from "mutative";
import { computed, shallowRef } from "vue";
import type { Job } from "../api/client";

export interface Step {
  /** The document to which the step leads. */
  job: Job;
  /** What the edit was, for the undo button. */
  label: string;
  /** Edits with the same key in a row are one step. */
  merge?: string;
}
export interface History {
  past: Step[];
  future: Step[];
}

const MOST_UNDO = 200;

/** `locked`: whoever looks may not change; told by `refused`. */
export function createDocument(changed: () => void, locked: () => boolean = () => false, refused: () => void = () => {}) {
  const job = shallowRef<Job | null>(null);
  const past = shallowRef<Step[]>([]);
  const future = shallowRef<Step[]>([]);
  /** What documents became when others' changes were taken in. */
  const moved = new WeakMap<Job, Job>();
  /** Documents that do not go together with what others changed since. */
  const apart = new WeakSet<Job>();

  /** Shows a document, with the steps that led to it where they are known. */
  function show(next: Job | null, history: History = { past: [], future: [] }) {
    job.value = next;
    past.value = history.past;
    future.value = history.future;
  }

  /**
   * Changes the job. Edits with the same `merge` key in a row are one step of undo (a drag, a field being typed). With
   * `from` the change starts there instead of at the job as it is: each step of a drag starts where the drag began.
   */
  function edit(label: string, change: (draft: Job) => void, merge?: string, from?: Job) {
    const before = job.value;
    if (!before) return;
    if (locked()) return refused();
    // a drag that began before others' changes were taken in goes on from where it began, with them
    while (from && moved.has(from)) from = moved.get(from);
    // and one that does not go together with them ends
    if (from && apart.has(from)) return;
    // the braces matter: what a short arrow function returns is not the next document
    const next = create(from ?? before, (draft) => {
      change(draft);
    });
    if (next === before) return;
    if (!merge || past.value.at(-1)?.merge !== merge) past.value = [...past.value.slice(-MOST_UNDO + 1), { job: before, label, merge }];
    future.value = [];
    job.value = next;
    changed();
  }

  /**
   * Takes in what others changed: `through` brings a document of before to what it would have been with their changes, and none
   * where the two do not go together. Undo then takes back one's own edits only, as far as that is so.
   */
  function rebase(next: Job, through: (before: Job) => Job | null) {
    const upTo = (steps: Step[]) => {
      const out: Step[] = [];
      let whole = true;
      for (const step of [...steps].reverse()) {
        const brought = whole ? through(step.job) : null;
        if (!brought) {
          whole = false;
          apart.add(step.job);
          continue;
        }
        if (brought !== step.job) moved.set(step.job, brought);
        out.unshift({ ...step, job: brought });
      }
      return out;
    };
    past.value = upTo(past.value);
    future.value = upTo(future.value);
    if (job.value && job.value !== next) moved.set(job.value, next);
    job.value = next;
  }

  /** Ends a merged edit, so that the next one is a step of its own. */
  function settle() {
    const last = past.value.at(-1);
    if (last?.merge) past.value = [...past.value.slice(0, -1), { job: last.job, label: last.label }];
  }

  function step(from: typeof past, to: typeof past) {
    const last = from.value.at(-1);
    if (!last || !job.value) return;
    to.value = [...to.value, { job: job.value, label: last.label }];
    from.value = from.value.slice(0, -1);
    job.value = last.job;
    changed();
  }

  return {
    job,
    show,
    edit,
    settle,
    rebase,
    undo: () => step(past, future),
    redo: () => step(future, past),
    history: (): History => ({ past: past.value, future: future.value }),
    /** What undo and redo would take back and do again; empty when there is nothing. */
    undoLabel: computed(() => past.value.at(-1)?.label ?? ""),
    redoLabel: computed(() => future.value.at(-1)?.label ?? ""),
  };
}
