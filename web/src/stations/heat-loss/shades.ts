import { useShades } from "../../sheet/shades";

/** Heat that each square metre of heatable floor has to give. */
export const useFluxShades = () => useShades("flux", (r) => (r.heated && r.heatable_area_m2 > 0 ? r.flux_needed_w_m2 : null));
