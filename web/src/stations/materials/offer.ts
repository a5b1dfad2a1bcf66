import type { OptionDesign } from "../../api/client";

/** An offer is open as long as something in it has no price. */
export const open = (o: OptionDesign) => o.missing.length > 0 || o.labour_missing;
