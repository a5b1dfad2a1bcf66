/** What the charts of the app share: ticks in the job's units on an SI axis. */
import { scaleLinear } from "d3-scale";
import type { Units } from "../api/client";
import { convert, figure, table, type Quantity } from "../units";

export interface Tick {
  /** SI. */
  value: number;
  text: string;
}

export interface Axis {
  quantity: Quantity;
  /** From and to, SI. */
  from: number;
  to: number;
  /** What is measured along it; its unit is added. */
  name?: string;
  /** Where the unit's round figures are not what one reads, as months. */
  ticks?: Tick[];
}

/** Round figures of the unit shown, between two SI values. */
export function ticks(quantity: Quantity, low: number, high: number, units: Units, count = 5): Tick[] {
  const unit = table[quantity][units];
  return scaleLinear()
    .domain([convert(quantity, low, units), convert(quantity, high, units)])
    .ticks(count)
    .map((shown) => {
      const value = (shown - unit.offset) / unit.factor;
      return { value, text: figure(quantity, value, units) };
    });
}
