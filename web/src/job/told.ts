import { Refused } from "../api/client";

/** What went wrong, in words: the server's own, or that it does not answer. */
export const told = (e: unknown, noAnswer = "Fuoco's server does not answer. Is it running?"): string => (e instanceof Refused ? e.message : noAnswer);
