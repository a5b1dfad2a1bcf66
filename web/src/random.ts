/** A name that nothing else has: 96 random bits. */
export const randomId = (): string => Array.from(crypto.getRandomValues(new Uint8Array(12)), (b) => b.toString(16).padStart(2, "0")).join("");
