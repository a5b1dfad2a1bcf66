/** The words of the laying log. */
import type { HarmKind, LayStep, Mend } from "../../api/client";

export const STEPS: Record<LayStep, string> = { not_started: "not started", on_floor: "on the floor", fixed: "fixed", seen: "looked at" };
export const HARMS: Record<HarmKind, string> = { kink: "Kink", nick: "Nick", cut: "Cut", crushed: "Crushed", burnt: "Burnt" };
export const MENDS: Record<Mend, string> = { no: "not mended yet", straightened: "straightened", coupling: "coupling", sleeve: "sleeve", replaced: "loop replaced" };

/** A record that neither browser nor server has. */
export const notKept = (e: unknown): string => `This browser cannot keep it, and the server did not take it: ${e instanceof Error ? e.message : String(e)}`;

/** Day and minute of a record, as its reader writes them. */
export const when = (at: string): string => new Date(at).toLocaleString(undefined, { dateStyle: "short", timeStyle: "short" });
