/** Which columns of a table are shown: a viewer's choice, kept in this browser. */
import { useLocalStorage } from "@vueuse/core";
import { reactive } from "vue";

export interface Columns {
  /** Those that can be left out, by what they are called. */
  names: Record<string, string>;
  shown: string[];
}

/** `usual`: shown until one chooses. */
export function useColumns(table: string, names: Record<string, string>, usual: string[]): Columns & { has(name: string): boolean } {
  const shown = useLocalStorage<string[]>(`fuoco-columns-${table}`, usual);
  return reactive({ names, shown, has: (name: string) => shown.value.includes(name) });
}
