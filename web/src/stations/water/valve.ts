import type { Units } from "../../api/client";
import { show } from "../../units";

/** A circuit with less than this to throttle is the index loop of its manifold, Pa. */
const INDEX_PA = 1;

/** What the balancing valve of a circuit closes. */
export const valveText = (balancing_pa: number, units: Units): string => (balancing_pa < INDEX_PA ? "index loop: open" : show("head", balancing_pa, units));
