import { expect, it } from "vitest";
import { moneyIn } from "./money";

it("stands as its country writes it, rounded to the cent, and never as a negative nothing", () => {
  expect([moneyIn("€", 1234.5), moneyIn("$", 1234.5), moneyIn("£", -12.3), moneyIn("CHF", 0.004), moneyIn("$", -0.001)]).toEqual(["1,234.50 €", "$1,234.50", "-£12.30", "0.00 CHF", "$0.00"]);
});
