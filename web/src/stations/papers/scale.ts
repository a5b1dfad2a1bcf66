/** Scales at which sheets are printed, in the ways of both unit systems. */
import type { Units } from "../../api/client";

/** US scales by what they make of a foot. */
const TO_THE_FOOT: Record<number, string> = { 12: "1", 16: "3/4", 24: "1/2", 32: "3/8", 48: "1/4", 64: "3/16", 96: "1/8", 128: "3/32", 192: "1/16", 384: "1/32" };
const METRIC = [10, 15, 20, 25, 30, 40, 50, 75, 100, 125, 150, 200, 250, 500];

/** The scales from the largest on. */
export const scalesFor = (units: Units): number[] => (units === "us" ? Object.keys(TO_THE_FOOT).map(Number) : METRIC);

/** "1:50", "1:48 (1/4" = 1')". */
export const scaleText = (scale: number, units: Units): string => (units === "us" && TO_THE_FOOT[scale] ? `1:${scale} (${TO_THE_FOOT[scale]}" = 1')` : `1:${scale}`);
