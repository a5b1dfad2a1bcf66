/**
 * Figures for people: SI inside, the job's units on the screen, both systems understood when typed.
 * The factors are the core's own table.
 */
import pairs from "../../crates/core/data/dialect.json";
import table from "../../crates/core/data/units.json";
export { table };
import type { Units } from "./api/client";

export type Quantity = keyof typeof table;
interface Unit {
  symbol: string;
  factor: number;
  offset: number;
  digits: number;
  /** Shown rounded to whole multiples of this. */
  shown_to?: number;
  /** Shown with its thousands parted by commas. */
  grouped?: boolean;
}

const capital = (word: string) => word.charAt(0).toUpperCase() + word.slice(1);
/** A sentence of ours in the words of those who have these units. */
export const dialect = (text: string, units: Units): string =>
  units === "metric" ? text : (pairs as [string, string][]).reduce((t, [word, theirs]) => t.replaceAll(word, theirs).replaceAll(capital(word), capital(theirs)), text);

export function symbol(quantity: Quantity, units: Units): string {
  return table[quantity][units].symbol;
}

export function convert(quantity: Quantity, si: number, units: Units): number {
  const unit = table[quantity][units];
  return si * unit.factor + unit.offset;
}

/** The figure alone, with the digits that mean something to a fitter. */
export function figure(quantity: Quantity, si: number, units: Units): string {
  const text = convert(quantity, si, units).toFixed(table[quantity][units].digits);
  return /^-[0.]*$/.test(text) ? text.slice(1) : text;
}

/** Figure and unit. Lengths of the building in US units are feet and inches to the quarter inch. */
export function show(quantity: Quantity, si: number | null | undefined, units: Units): string {
  if (si === null || si === undefined || !Number.isFinite(si)) return "–";
  if (quantity === "length" && units === "us") return feetAndInches(si);
  const unit: Unit = table[quantity][units];
  const gap = unit.symbol === "" || unit.symbol === "%" ? "" : " ";
  // rounded in the unit, back to SI for the figure
  const round = unit.shown_to ? (Math.round(convert(quantity, si, units) / unit.shown_to) * unit.shown_to - unit.offset) / unit.factor : si;
  const text = figure(quantity, round, units);
  return (unit.grouped ? text.replace(/\B(?=(\d{3})+(?!\d))/g, ",") : text) + gap + unit.symbol;
}

function feetAndInches(m: number): string {
  const quarters = Math.round((Math.abs(m) / INCH_M) * 4);
  const sign = m < 0 && quarters > 0 ? "-" : "";
  const rest = quarters % 48;
  return `${sign}${Math.floor(quarters / 48)}' ${Math.floor(rest / 4)}${["", " 1/4", " 1/2", " 3/4"][rest % 4]}"`;
}

const INCH_M = 0.0254;
const NUMBER = String.raw`(\d+(?:[.,]\d+)?|[.,]\d+)`;
const FEET = new RegExp(
  String.raw`^(-?)${NUMBER}\s*(?:'|′|ft|feet|foot)\s*(?:-?\s*(?:(\d+(?:[.,]\d+)?)(?![\d./]*\/))?\s*(?:-?\s*(\d+)\s*\/\s*(\d+))?\s*(?:"|″|''|in|inch|inches)?)?$`,
);
const INCHES = new RegExp(String.raw`^(-?)(?:${NUMBER}(?!\s*\/))?\s*(?:-?\s*(\d+)\s*\/\s*(\d+))?\s*(?:"|″|''|in|inch|inches)$`);

const number = (text: string | undefined) => (text ? Number(text.replace(",", ".")) : 0);

/** Metres from "4.2 m", "420 cm", "13' 9 1/2\"", "13.8ft", "9 in"; a bare number is in the given unit. */
export function parseLength(text: string, units: Units, bare: "length" | "size" | "tube" | "thickness" = "length"): number | null {
  const t = text.trim().toLowerCase().replace(/\s+/g, " ");
  const metric = new RegExp(`^(-?)${NUMBER} ?(mm|cm|m)$`).exec(t);
  if (metric) {
    const scale = { mm: 0.001, cm: 0.01, m: 1 }[metric[3] as "mm" | "cm" | "m"];
    return (metric[1] ? -1 : 1) * number(metric[2]) * scale;
  }
  const sum = (sign: string | undefined, inches: number, over: string | undefined, under: string | undefined) => {
    const part = over ? number(over) / number(under) : 0;
    const m = (inches + part) * INCH_M;
    return Number.isFinite(m) ? (sign ? -m : m) : null;
  };
  const feet = FEET.exec(t);
  if (feet) return sum(feet[1], number(feet[2]) * 12 + number(feet[3]), feet[4], feet[5]);
  const inches = INCHES.exec(t);
  if (inches && (inches[2] || inches[3])) return sum(inches[1], number(inches[2]), inches[3], inches[4]);
  const plain = new RegExp(`^(-?)${NUMBER}$`).exec(t);
  if (!plain) return null;
  return ((plain[1] ? -1 : 1) * number(plain[2])) / table[bare][units].factor;
}

/** "36 x 24", "4,2 m by 3 m": two lengths typed into one field; the second is empty where there is one. */
export function twoLengths(text: string): [string, string] {
  const both = /^(.*[\d"'′″a-z])\s*(?:[x×*]|\bby\b)\s*([\d.,].*)$/i.exec(text.trim());
  return both ? [both[1]!.trim(), both[2]!.trim()] : [text, ""];
}

/** "80,000" is eighty thousand; "4,2" has a decimal comma. */
const ungrouped = (text: string) => text.replace(/^(-?\d{1,3}(?:,\d{3})+)(?![\d,])/, (digits) => digits.replaceAll(",", ""));
/** "R-21", as insulation is sold in feet and inches: h·ft²·°F/BTU. */
const R_VALUE = /^r-?(\d+(?:[.,]\d+)?)$/;

/** "R-5/in", the same for each inch of it. */
const R_PER_INCH = /^r?-?(\d+(?:[.,]\d+)?)(?:\/|per)in(?:ch)?\.?$/;
/** Conductivity as insulation is sold in feet and inches: R of each inch. */
const rOfConductivity = (w_mk: number) => (INCH_M / w_mk) * table.resistance.us.factor;
/** Conductivity of a material: λ, in feet and inches its R per inch. */
export const showConductivity = (w_mk: number, units: Units): string => (units === "us" ? `R-${rOfConductivity(w_mk).toFixed(1)} per in` : show("linear", w_mk, units));

/** Units besides those shown that are typed in the trade: so much of what the document keeps is one of them. */
const ALSO: Partial<Record<Quantity, Record<string, number>>> = {
  heat: { w: 1, kw: 1000, "kbtu/h": 293.07107, mbh: 293.07107 },
  power: { w: 1, kw: 1000 },
  head: { pa: 1, kpa: 1000, mbar: 100, bar: 1e5, m: 9806.65, ft: 2989.0669 },
  pressure: { pa: 1, kpa: 1000, mbar: 100, bar: 1e5, psi: 6894.7573 },
  gauge: { pa: 1, kpa: 1000, mbar: 100, bar: 1e5, psi: 6894.7573 },
  flow: { "l/min": 1, "l/h": 1 / 60, "l/s": 60, "m3/h": 1000 / 60, gpm: 3.7854118 },
};
/** Without the noise of the last digits: 18 mm is 0.018 m. */
const clean = (si: number): number => Number(si.toPrecision(12));

/** The SI value of what was typed for a quantity, or null when it does not read. */
export function parse(quantity: Quantity, text: string, units: Units): number | null {
  const si = read(quantity, text, units);
  return si === null ? null : clean(si);
}

function read(quantity: Quantity, text: string, units: Units): number | null {
  if (quantity === "length" || quantity === "size" || quantity === "tube" || quantity === "thickness") return parseLength(text, units, quantity);
  const t = ungrouped(text.trim().toLowerCase().replace("−", "-").replace(/\s+/g, ""));
  const r = R_VALUE.exec(t);
  if (r && (quantity === "resistance" || quantity === "transmittance")) {
    const si = number(r[1]) / table.resistance.us.factor;
    return quantity === "resistance" ? si : si > 0 ? 1 / si : null;
  }
  const perInch = R_PER_INCH.exec(t);
  if (perInch && quantity === "linear") return number(perInch[1]) > 0 ? (INCH_M * table.resistance.us.factor) / number(perInch[1]) : null;
  const got = new RegExp(`^(-?)${NUMBER}(.*)$`).exec(t);
  if (!got) return null;
  const value = (got[1] ? -1 : 1) * number(got[2]);
  const unitText = got[3] ?? "";
  const plain = (s: string) => s.toLowerCase().replace(/[\s°·²]/g, (c) => (c === "²" ? "2" : ""));
  const system = unitText === "" ? units : (["metric", "us"] as const).find((u) => plain(symbol(quantity, u)) === plain(unitText));
  if (!system) {
    const also = ALSO[quantity]?.[plain(unitText)];
    return also === undefined ? null : value * also;
  }
  const unit = table[quantity][system];
  return (value - unit.offset) / unit.factor;
}

/** A figure and its unit stay on one line. */
export const whole = (text: string): string => text.replace(/(\d) (?=m²|m\b|mm|K\b|°|W|kPa|ft|in\b|BTU|L\/min|gpm)/g, "$1\u00a0");
