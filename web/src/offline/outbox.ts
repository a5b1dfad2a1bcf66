/**
 * Records written on site, until the server has them. Each is kept in this browser before anything else happens to it, sent in the
 * order in which it was written, by one window at a time, and taken out only when the server has answered that it has it. A record
 * bears its own id, so one that is sent again counts once.
 */
import type { DBSchema } from "idb";
import { reactive, toRaw } from "vue";
import { answer, api, Refused, sendFile, type Entry, type SiteFact, type SiteRecord } from "../api/client";
import { plain } from "../job/edit";
import { randomId } from "../random";
import { keptDatabase } from "./database";

export interface Waiting {
  /** The order in which they were written. */
  number?: number;
  job_id: string;
  record: SiteRecord;
  /** Photos that the server does not have yet; they come before the ids in the record. */
  photos: Blob[];
  /** Who wrote it: it is sent under that name only. Empty where nobody signs in. */
  who: string;
  /** Why the server does not take it. It stays here until somebody throws it away. */
  refused?: string;
}
interface Schema extends DBSchema {
  waiting: { key: number; value: Waiting };
}

const RETRY_MS = [2000, 5000, 15_000, 60_000];

export interface NewRecord {
  fact: SiteFact;
  place?: SiteRecord["place"];
  note?: string;
  corrects?: string;
  photos?: Blob[];
}

/** `sent` hears of every record that the server has taken. */
export function createOutbox(who: () => string, sent: (jobId: string, entry: Entry) => void = () => {}) {
  const state = reactive({
    /** Written and not sent yet, in order. */
    waiting: [] as Waiting[],
    sending: false,
    /** The server does not answer. */
    offline: false,
  });
  let timer: ReturnType<typeof setTimeout> | undefined;
  let retries = 0;
  let again = false;
  let shownOnce = false;
  const channel = typeof BroadcastChannel === "undefined" ? null : new BroadcastChannel("fuoco-outbox");
  channel?.addEventListener("message", () => void show());

  const database = keptDatabase<Schema>("fuoco-outbox", (db) => void db.createObjectStore("waiting", { keyPath: "number", autoIncrement: true }));
  /** Written by whoever is signed in now, or before it was known who that is. */
  const mine = (w: Waiting) => w.who === "" || w.who === who();

  /** Shows what is kept: other windows of this browser write there too. */
  async function show() {
    shownOnce = true;
    state.waiting = await (await database()).getAll("waiting");
  }

  /**
   * Writes a record down. It is safe when this returns, network or not; where the browser can keep nothing it goes straight to the
   * server, and this fails if that fails.
   */
  async function add(jobId: string, of: NewRecord): Promise<SiteRecord> {
    // forms hand over what they hold: a store of the browser takes no reactive thing
    const record: SiteRecord = { id: randomId(), at: new Date().toISOString(), fact: plain(of.fact) };
    if (of.place) record.place = plain(of.place);
    if (of.note?.trim()) record.note = of.note.trim();
    if (of.corrects) record.corrects = of.corrects;
    const waiting: Waiting = { job_id: jobId, record, photos: (of.photos ?? []).map((photo) => toRaw(photo)), who: who() };
    try {
      waiting.number = await (await database()).add("waiting", waiting);
    } catch {
      await deliver(waiting, () => Promise.resolve());
      return record;
    }
    state.waiting.push(waiting);
    channel?.postMessage("added");
    void send();
    return record;
  }

  /** Sends one record with its photos; `keep` writes down how far it has come. */
  async function deliver(w: Waiting, keep: (w: Waiting) => Promise<void>): Promise<void> {
    while (w.photos.length) {
      const [photo, ...rest] = w.photos;
      const kept = await sendFile<{ id: string }>(`/api/jobs/${encodeURIComponent(w.job_id)}/photos`, photo!);
      w.record = { ...w.record, photos: [...(w.record.photos ?? []), kept.id] };
      w.photos = rest;
      await keep(w);
    }
    sent(w.job_id, await answer(api.POST("/api/jobs/{id}/records", { params: { path: { id: w.job_id } }, body: w.record })));
  }

  /** Sends what waits. Of several windows one does it. */
  async function send(): Promise<void> {
    if (state.sending) return void (again = true);
    state.sending = true;
    clearTimeout(timer);
    try {
      do {
        again = false;
        if (globalThis.navigator?.locks) await navigator.locks.request("fuoco-outbox", all);
        else await all();
      } while (again);
    } finally {
      state.sending = false;
    }
  }

  async function all(): Promise<void> {
    const db = await database();
    if (!shownOnce) await show();
    for (const shown of state.waiting.filter((w) => !w.refused && mine(w))) {
      const number = shown.number!;
      // as it is kept: a blob within a reactive object is none
      const w = await db.get("waiting", number);
      // another window has sent it
      if (!w) {
        state.waiting = state.waiting.filter((left) => left.number !== number);
        continue;
      }
      try {
        await deliver(w, async (now) => void (await db.put("waiting", now)));
        await db.delete("waiting", number);
        state.waiting = state.waiting.filter((left) => left.number !== number);
        retries = 0;
        state.offline = false;
      } catch (e) {
        const status = e instanceof Refused ? e.problem.status : 0;
        // it will never be taken as it is: it is kept, and said, and the next one has its turn
        if (e instanceof Refused && [403, 404, 409, 413, 415, 422].includes(status)) {
          await db.put("waiting", { ...w, refused: e.problem.detail });
          shown.refused = e.problem.detail;
        } else {
          state.offline = !(e instanceof Refused);
          timer = setTimeout(() => void send(), RETRY_MS[Math.min(retries++, RETRY_MS.length - 1)]);
          return;
        }
      }
      channel?.postMessage("sent");
    }
  }

  /** The browser is online again, or the user asks. */
  function retry() {
    retries = 0;
    void send();
  }

  /** Changes what waits of some, and sends it. */
  async function change(which: (w: Waiting) => boolean, to: Partial<Waiting>) {
    const db = await database();
    for (const w of state.waiting.filter(which)) {
      const kept = await db.get("waiting", w.number!);
      if (kept) await db.put("waiting", { ...kept, ...to });
    }
    await show();
    await send();
  }
  /** Tries once more what the server did not take. */
  const insist = () => change((w) => w.refused !== undefined, { refused: undefined });
  /** Sends what somebody else wrote under the name of whoever is signed in: their link is past, or they are gone. */
  const adopt = () => change((w) => !mine(w), { who: who() });

  /** Throws away what the server does not take. */
  async function giveUp(number: number) {
    await (await database()).delete("waiting", number);
    await show();
  }

  return { state, mine, add, send, retry, insist, adopt, giveUp, show };
}
export type Outbox = ReturnType<typeof createOutbox>;
