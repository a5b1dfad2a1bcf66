import { useShades } from "../../sheet/shades";

/** Mean temperature of the floors' surfaces. */
export const useSurfaceShades = () => useShades("temperature", (r) => r.surface_mean_c ?? null);
