/** What the sheet hands to the layers, bars and legends of its station. */
import { inject, provide, type InjectionKey } from "vue";
import type { Toolbox } from "./tool";
import type { View } from "./view";

export interface SheetContext {
  view: View;
  /** The tools of the station on the sheet. */
  readonly box: Toolbox;
  /** Shows all of the level. */
  fit(): void;
  /** Shows all where what was just drawn would not be seen. */
  showNew(): void;
}
const KEY: InjectionKey<SheetContext> = Symbol("sheet");

export const provideSheet = (context: SheetContext) => provide(KEY, context);
export function useSheet<Box extends Toolbox = Toolbox>(): Omit<SheetContext, "box"> & { readonly box: Box } {
  const context = inject(KEY);
  if (!context) throw new Error("a layer of the sheet stands outside of one");
  return context as Omit<SheetContext, "box"> & { readonly box: Box };
}
