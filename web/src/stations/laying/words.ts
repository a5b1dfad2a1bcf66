/** What the views of the site say alike. */

/** A record that neither browser nor server has. */
export const notKept = (e: unknown): string => `This browser cannot keep it, and the server did not take it: ${e instanceof Error ? e.message : String(e)}`;

/** Day and minute of a record, as its reader writes them. */
export const when = (at: string): string => new Date(at).toLocaleString(undefined, { dateStyle: "short", timeStyle: "short" });
