import type { MaterialsDesign } from "../../api/client";
import { CAUTIONS } from "../../words";

type Counted = Pick<MaterialsDesign, "saw_cuts" | "cautions">;

/** What to take care of along a loop, with the length of tube at each place from `from` on; the papers say the same. */
export function cautionsOf(counted: Counted, loop: string, from: number, length: (m: number) => string, deep: (m: number) => string): string[] {
  const at = (along: number[]) => along.map((a) => length(from + a)).join(", ");
  const out: string[] = [];
  const saws = counted.saw_cuts.filter((c) => c.loop_id === loop);
  if (saws.length) out.push(`saw cut: sleeves at ${at(saws.map((c) => c.along_m))}, ${deep(saws[0]!.tube_depth_m)} deep`);
  const places = new Map<string, number[]>();
  // in the order of their kinds; what stands on the floor is told by its name too
  for (const kind of Object.keys(CAUTIONS) as (keyof typeof CAUTIONS)[])
    for (const c of counted.cautions.filter((x) => x.loop_id === loop && x.kind === kind)) {
      const named = kind === "bolt_down" || kind === "column" ? `${CAUTIONS[kind]} ${c.name}`.trim() : CAUTIONS[kind];
      places.set(named, [...(places.get(named) ?? []), c.along_m]);
    }
  for (const [name, along] of places) out.push(`${name} at ${at(along)}`);
  return out;
}
