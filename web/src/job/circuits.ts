/** Circuits as edits of the job: which manifold is on which. */
import type { FloorCircuit, Job, OwnCircuit } from "../api/client";
import { newId, plain } from "./edit";

/** How the firm's rules feed a circuit of which nothing else is said; nothing where they say what is usual. */
export function feedByRules(job: Job): Pick<FloorCircuit, "feed"> {
  const { mixing = "three_way", pump_control: control = "constant_pressure" } = job.rules ?? {};
  const feed: FloorCircuit["feed"] = {};
  if (mixing !== "three_way") feed.mixing = mixing;
  if (control !== "constant_pressure") feed.pump = { control };
  return Object.keys(feed).length ? { feed } : {};
}

/** The circuits of a job; one that names none has all its manifolds on one. */
export function circuitsOf(job: Job): FloorCircuit[] {
  job.circuits ??= [];
  if (!job.circuits.length) job.circuits.push({ id: newId(job, "circuit"), name: "Floors", manifold_ids: job.manifolds.map((m) => m.id), ...feedByRules(job) });
  return job.circuits;
}

/** Puts a manifold on a circuit, and off all others. */
export function putOn(job: Job, manifoldId: string, circuitId: string) {
  for (const c of circuitsOf(job)) {
    c.manifold_ids = (c.manifold_ids ?? []).filter((m) => m !== manifoldId);
    if (c.id === circuitId) c.manifold_ids.push(manifoldId);
  }
}

/** A circuit more, with that manifold on it. */
export function addCircuit(job: Job, manifoldId: string, name: string): string {
  const circuits = circuitsOf(job);
  const id = newId(job, "circuit");
  circuits.push({ id, name, manifold_ids: [], ...feedByRules(job) });
  putOn(job, manifoldId, id);
  return id;
}

/** A circuit less: its manifolds go to the first that is left; the last one takes all circuits away. */
export function removeCircuit(job: Job, id: string) {
  const gone = job.circuits?.find((c) => c.id === id);
  job.circuits = (job.circuits ?? []).filter((c) => c.id !== id);
  const first = job.circuits[0];
  if (first) first.manifold_ids = [...(first.manifold_ids ?? []), ...(gone?.manifold_ids ?? [])];
  if (job.circuits.length === 1 && first!.supply_c === undefined) job.circuits = [];
}

/** Rooms on a circuit of their own, as the core has laid it out. */
export function takeOwnCircuit(job: Job, own: OwnCircuit) {
  job.manifolds.push(plain(own.manifold));
  job.circuits = plain(own.circuits);
  for (const room of job.rooms) {
    const by = own.served.find((s) => s.room_id === room.id)?.manifold_id;
    if (by && room.floor) room.floor.manifold_id = by;
  }
  // loops locked to the old manifold would hold the rooms there
  job.loops = job.loops?.filter((l) => !own.room_ids.includes(l.room_id));
}
