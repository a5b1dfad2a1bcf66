/** Giving locked loops back to the layout; what was shaped by hand is given up only when that is meant. */
import { ElMessageBox } from "element-plus";
import "element-plus/es/components/message-box/style/css";
import { answer, api } from "../../api/client";
import { kept, unlock } from "../../job/loops";
import { store } from "../../job/store";

/**
 * Gives locked loops back so that they are laid anew, unless what lies is better: then only when that is meant. Returns whether
 * it was done.
 */
export async function reroute(ids: string[], label: string): Promise<boolean> {
  const job = store.job.value;
  if (!job) return false;
  const again = await answer(api.POST("/api/loops/reroute", { body: { job: store.seen(job), loop_ids: ids } })).catch(() => null);
  // the answer belongs to the job that was asked about
  if (store.job.value !== job) return false;
  // without the server they are laid when it answers
  if (again && !again.is_no_worse) {
    const said = await ElMessageBox.confirm(again.message, "Keep what lies?", { confirmButtonText: "Re-route all the same", cancelButtonText: "Keep" }).catch(() => null);
    if (!said) return false;
  }
  return release(ids, label);
}

/** Unlocks the locked loops of those ids. Returns whether it was done. */
export async function release(ids: string[], label: string): Promise<boolean> {
  const job = store.job.value;
  if (!job) return false;
  const tag = (l: { manifold_id: string; port: number }) => `${job.manifolds.find((m) => m.id === l.manifold_id)?.letter ?? ""}${l.port}`;
  const shaped = kept(job).filter((l) => ids.includes(l.id) && l.by_hand);
  if (shaped.length) {
    const [was, it] = shaped.length === 1 ? ["was", "it"] : ["were", "them"];
    const said = await ElMessageBox.confirm(
      `${shaped.map(tag).join(", ")} ${was} shaped by hand. The layout will lay ${it} anew. (Undo brings ${it} back.)`,
      "Give up what was shaped by hand?",
      { confirmButtonText: "Re-route", cancelButtonText: "Keep" },
    ).catch(() => null);
    if (!said) return false;
  }
  store.edit(label, (draft) => unlock(draft, ids));
  return true;
}
