/** Currencies that stand before the figure; papers know the same. */
const BEFORE = ["$", "£"];
export function moneyIn(currency: string, v: number): string {
  const figure = Math.abs(v).toLocaleString("en", { minimumFractionDigits: 2, maximumFractionDigits: 2 });
  const sign = v < 0 && /[1-9]/.test(figure) ? "-" : "";
  return BEFORE.includes(currency) ? `${sign}${currency}${figure}` : `${sign}${figure} ${currency}`;
}
