/** The tool of stations at which nothing is drawn: it chooses. */
import { reactive } from "vue";
import { store } from "../job/store";
import { toolbox, type SheetPointer, type Toolbox } from "./tool";

const KINDS = new Set(["room", "loop", "manifold", "opening", "keep_out", "mark"]);

/** Chooses what lies under the pointer; what is chosen, or null. */
export function pick(p: SheetPointer): { kind: string; id: string; data: DOMStringMap } | null {
  const data = p.target.closest<SVGElement>("[data-kind]")?.dataset;
  if (!data?.kind || !data.id || !(KINDS.has(data.kind) || data.kind === "wall")) {
    store.select(null);
    return null;
  }
  store.select({ kind: data.kind as "room", id: data.id, edge: data.edge === undefined ? undefined : Number(data.edge) });
  return { kind: data.kind, id: data.id, data };
}

export function pickBox(): Toolbox {
  const hand = reactive({ tool: "select", problem: "" });
  return toolbox(hand, [{ id: "select", name: "Select", down: (p) => pick(p) !== null, hint: () => "" }], { deselect: () => store.select(null) });
}
