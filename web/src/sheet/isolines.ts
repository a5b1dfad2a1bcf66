/** Lines of equal temperature on a raster: marching squares between the middles of four spots that all are floor. */

export interface Raster {
  origin: readonly number[];
  step_m: number;
  columns: number;
  rows: number;
}

/** The line as an SVG path in metres on the plan; spots without a figure have none. */
export function isoline(raster: Raster, values: ArrayLike<number | null | undefined>, level: number): string {
  const { columns, rows, step_m } = raster;
  const out: string[] = [];
  const at = (x: number, y: number) => `${((raster.origin[0] ?? 0) + (x + 0.5) * step_m).toFixed(3)} ${((raster.origin[1] ?? 0) + (y + 0.5) * step_m).toFixed(3)}`;
  for (let j = 0; j + 1 < rows; j++) {
    for (let i = 0; i + 1 < columns; i++) {
      const k = j * columns + i;
      const [a, b, c, d] = [values[k], values[k + 1], values[k + columns + 1], values[k + columns]];
      if (a === null || a === undefined || b === null || b === undefined || c === null || c === undefined || d === null || d === undefined) continue;
      const cross = (p: number, q: number) => (p < level) !== (q < level);
      const part = (p: number, q: number) => (level - p) / (q - p);
      const points: string[] = [];
      if (cross(a, b)) points.push(at(i + part(a, b), j));
      if (cross(b, c)) points.push(at(i + 1, j + part(b, c)));
      if (cross(d, c)) points.push(at(i + part(d, c), j + 1));
      if (cross(a, d)) points.push(at(i, j + part(a, d)));
      // four: a saddle, its two corners below the level each on their own
      if (points.length === 2) out.push(`M${points[0]}L${points[1]}`);
      else if (points.length === 4) out.push(a < level ? `M${points[0]}L${points[3]}M${points[1]}L${points[2]}` : `M${points[0]}L${points[1]}M${points[2]}L${points[3]}`);
    }
  }
  return out.join("");
}

/** Whole steps between two figures, a dozen at most. */
export function levels(low: number, high: number): number[] {
  const step = [0.5, 1, 2, 5, 10].find((s) => (high - low) / s <= 12) ?? 20;
  const first = Math.ceil(low / step + 1e-9);
  return Array.from({ length: Math.max(0, Math.floor(high / step - 1e-9) - first + 1) }, (_, k) => (first + k) * step);
}
