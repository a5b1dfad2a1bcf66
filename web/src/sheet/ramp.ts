/** Colours of the floor's pictures: even steps of lightness, so that grey paper keeps them apart. */
export type MapOf = "distance" | "surface";

/** From near to far, and from cool to too warm. */
const NEAR_FAR = [[250, 244, 230], [214, 205, 186], [150, 158, 168], [84, 100, 132], [40, 44, 84]];
const COOL_WARM = [[222, 230, 236], [246, 232, 200], [240, 190, 120], [214, 120, 60], [140, 40, 20]];

export const ramp = (of: MapOf, x: number): [number, number, number] => {
  const table = of === "distance" ? NEAR_FAR : COOL_WARM;
  const t = Math.min(1, Math.max(0, x)) * (table.length - 1);
  const i = Math.min(Math.floor(t), table.length - 2);
  return [0, 1, 2].map((k) => Math.round(table[i]![k]! + (table[i + 1]![k]! - table[i]![k]!) * (t - i))) as [number, number, number];
};

const STEPS = 10;
/** The ramp in words for a legend. */
export const colours = (of: MapOf) => Array.from({ length: STEPS }, (_, i) => `rgb(${ramp(of, (i + 0.5) / STEPS).join(" ")})`);
