import type { Design, Job } from "../api/client";

/** The circuits of a field in a wall or ceiling, as a row beside the loops. */
export interface FieldRow {
  id: string;
  tag: string;
  name: string;
  tube: string;
  /** By the design: lengths, flow, temperatures and heads. */
  of: Design["rooms"][number]["fields"][number];
}

/** Every field that hangs on a manifold, in the job's order. */
export function fieldRows(job: Job | null, design: Design | null): FieldRow[] {
  const letter = (id: string | null | undefined) => job?.manifolds.find((m) => m.id === id)?.letter ?? "–";
  return (job?.rooms ?? []).flatMap((room) =>
    (design?.rooms.find((r) => r.id === room.id)?.fields ?? []).flatMap((of) => {
      const field = room.fields?.find((f) => f.id === of.id);
      if (!field) return [];
      const what = field.edge === undefined || field.edge === null ? "ceiling field" : "wall field";
      return [{ id: of.id, tag: letter(of.manifold_id), name: `${room.name}, ${what}: ${of.circuits} ${of.circuits === 1 ? "circuit" : "circuits"}`, tube: field.tube_id, of }];
    }),
  );
}
