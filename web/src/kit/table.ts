/** What the tables of the ledgers have in common: their columns, their order, their CSV file. */
import { convert, dialect, show, symbol, type Quantity } from "../units";
import type { Units } from "../api/client";

export interface Column<Row> {
  key: string;
  head: string;
  /** Shown, sorted by and written to the file; a figure in SI where it measures something. */
  value?: (row: Row) => string | number | null | undefined;
  /** What the figure measures. */
  quantity?: Quantity;
  /** Where the words differ from the value. */
  text?: (row: Row) => string;
  /** Where the figure comes from. */
  from?: (row: Row) => string;
  /** To the right, as figures are. */
  num?: boolean;
  /** It may be left out; "extra" is left out until one asks for it. */
  choice?: "usual" | "extra";
  /** Colour of its key. */
  tint?: string;
  /** More than its head says. */
  title?: string;
}

export interface Order {
  key: string;
  down: boolean;
}

/** The words of a cell. */
export function cellText<Row>(column: Column<Row>, row: Row, units: Units): string {
  if (column.text) return column.text(row);
  const value = column.value?.(row);
  if (column.quantity) return show(column.quantity, typeof value === "number" ? value : undefined, units);
  return value === null || value === undefined ? "" : String(value);
}

/** Rows by a column: figures by size, words as people sort them (A2 before A10), what is missing last. */
export function inOrder<Row>(rows: Row[], column: Column<Row> | undefined, order: Order | null): Row[] {
  if (!order || !column?.value) return rows;
  const { value } = column;
  const missing = (v: unknown) => v === null || v === undefined || v === "";
  const words = new Intl.Collator(undefined, { numeric: true });
  return [...rows].sort((a, b) => {
    const [x, y] = [value(a), value(b)];
    if (missing(x) || missing(y)) return Number(missing(x)) - Number(missing(y));
    const by = typeof x === "number" && typeof y === "number" ? x - y : words.compare(String(x), String(y));
    return order.down ? -by : by;
  });
}

/** A column's head is clicked: up, down, as they were. */
export function nextOrder(order: Order | null, key: string): Order | null {
  if (order?.key !== key) return { key, down: false };
  return order.down ? null : { key, down: true };
}

const quoted = (text: string) => (/[",\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text);
/** A program that opens the file takes no name for a formula. */
const harmless = (text: string) => (/^[=+@\t]|^-(?!\d)/.test(text) ? `'${text}` : text);

/** The table as a CSV file: figures bare, their unit in the head. */
export function csv<Row>(columns: Column<Row>[], rows: Row[], units: Units): string {
  const told = columns.filter((c) => c.value ?? c.text);
  const named = (c: Column<Row>) => dialect(c.head, units);
  const unit = (c: Column<Row>) => (c.quantity && symbol(c.quantity, units) ? `${named(c)}, ${symbol(c.quantity, units)}` : named(c));
  const figure = (c: Column<Row>, row: Row) => {
    const value = c.value?.(row);
    // what has words and no unit is told in its words: sorted by one figure, it says more
    if (typeof value === "number" && (c.quantity || !c.text)) return String(Number((c.quantity ? convert(c.quantity, value, units) : value).toPrecision(8)));
    return harmless(c.quantity ? "" : cellText(c, row, units));
  };
  return [told.map(unit), ...rows.map((row) => told.map((c) => figure(c, row)))].map((line) => line.map(quoted).join(",")).join("\r\n") + "\r\n";
}
