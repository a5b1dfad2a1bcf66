/**
 * Places in the job by their path, written as the server's refusals write it ("rooms[2].openings[0].width_m"), and what the
 * job's schema says of the figure there.
 */
import schema from "../api/fields.generated.json";
import type { Job } from "../api/client";
import type { Quantity } from "../units";

export interface FieldFigure {
  quantity: Quantity;
  /** Range, SI, both included. */
  least: number;
  most: number;
  /** What it is. */
  says: string;
  whole?: boolean;
  /** What a missing one stands for. */
  usual?: number;
  /** One for each key. */
  keyed?: boolean;
  /** It may be left open. */
  open?: boolean;
}
type Types = Record<string, Record<string, FieldFigure | { of: string }>>;

/** The steps of a path, and what the schema says of the figure at its end. */
function read(path: string): { steps: (string | number)[]; figure?: FieldFigure } {
  const steps: (string | number)[] = [];
  let type: string | undefined = "Job";
  for (let rest = path; rest; ) {
    const [whole, name, index] = /^(?:\.?([^.[\]]+)|\[(-?\d+)\])/.exec(rest) ?? [rest, rest];
    rest = rest.slice(whole.length);
    steps.push(index === undefined ? name! : Number(index));
    // entries of lists are of the list's type
    if (index !== undefined) continue;
    const found: FieldFigure | { of: string } | undefined = type === undefined ? undefined : (schema as Types)[type]?.[name!];
    if (found && !("of" in found)) {
      if (found.keyed && rest) steps.push(rest.slice(1));
      else steps.push(...(rest.match(/\d+/g) ?? []).map(Number));
      return { steps, figure: found };
    }
    type = found?.of;
  }
  return { steps };
}

/** What the schema says of the figure at a path; a path that leads to none is a mistake of the program. */
export function figureAt(path: string): FieldFigure {
  const { figure } = read(path);
  if (!figure) throw new Error(`the job has no figure at ${path}`);
  return figure;
}

/** What the schema says of a figure of one of the job's types, as "Opening.width_m". */
export function figureOf(name: string): FieldFigure {
  const [type = "", field = ""] = name.split(".");
  const found = (schema as Types)[type]?.[field];
  if (!found || "of" in found) throw new Error(`the job has no figure ${name}`);
  return found;
}

/** What stands at a path; nothing where the way there ends before. */
export function valueAt(job: Job | null, path: string): unknown {
  let at: unknown = job;
  for (const step of read(path).steps) at = (at as Record<string, unknown> | null | undefined)?.[step];
  return at;
}

/** Puts a figure at a path of a draft; none takes it away. Parts of the job that are left out as usual are put there. */
export function putAt(draft: Job, path: string, value: number | undefined) {
  const way = read(path).steps;
  const last = way.pop()!;
  let at = draft as unknown as Record<string | number, unknown>;
  for (const step of way) at = (at[step] ??= {}) as typeof at;
  if (value === undefined) delete at[last];
  else at[last] = value;
}

type Listed = Pick<Job, "rooms" | "manifolds" | "levels" | "circuits">;
/** The path of a thing that the job lists. */
export const pathOf = (job: Job | null, list: keyof Listed, id: string | undefined) => `${list}[${(job?.[list] as { id: string }[] | undefined)?.findIndex((x) => x.id === id) ?? -1}]`;
/** The path of a thing that a room holds. */
export function heldPath(job: Job | null, list: "openings" | "keep_outs" | "emitters", roomId: string | undefined, id: string | undefined) {
  const room = job?.rooms.find((r) => r.id === roomId);
  return `${pathOf(job, "rooms", roomId)}.${list}[${(room?.[list] as { id: string }[] | undefined)?.findIndex((x) => x.id === id) ?? -1}]`;
}
