/**
 * What the server makes of the open job's records: asked for when the job is opened, again when a record has come in, and again when the
 * job was saved while somebody looks at it. It is put by for reading without a network.
 */
import { onScopeDispose, getCurrentScope, ref, shallowRef, watch, type ShallowRef } from "vue";
import { Refused, Unreachable } from "../api/client";
import { store } from "../job/store";
import { told } from "../job/told";
import { shelf, type Shelved } from "./shelf";
import { taken } from "./waiting";

export function servedOf<K extends "laying" | "tests" | "startUp">(kind: K, ask: (jobId: string) => Promise<NonNullable<Shelved[K]>>) {
  const { state, sync, live } = store;
  const served = shallowRef(null) as ShallowRef<NonNullable<Shelved[K]> | null>;
  const failed = ref("");
  let asked = 0;
  let lookers = 0;

  async function load() {
    const { id } = state;
    const number = ++asked;
    // an answer that comes when the job is no longer open, or another one has been asked for, is of no use
    const wanted = () => number === asked && state.id === id;
    if (!id || state.loading) return;
    try {
      const got = await ask(id);
      if (!wanted()) return;
      served.value = got;
      failed.value = "";
      void shelf.put({ id, [kind]: got });
    } catch (e) {
      const was = e instanceof Unreachable ? (await shelf.get(id))?.[kind] : undefined;
      if (!wanted()) return;
      served.value ??= was ?? null;
      failed.value = served.value ? "" : e instanceof Refused ? e.problem.detail : told(e);
    }
  }
  watch(
    () => state.id,
    () => {
      served.value = null;
      failed.value = "";
    },
    { flush: "sync" },
  );
  watch([() => state.id, () => state.loading, () => state.offlineSince, () => live.state.recorded, taken], () => void load());
  watch([() => sync.state.revision, store.units], () => lookers && void load());

  /** For as long as the component is there that asks. */
  function look() {
    lookers++;
    if (getCurrentScope()) onScopeDispose(() => lookers--);
    void load();
  }
  return { served, failed, look };
}
