/** Which columns of a table are shown: a viewer's choice, kept in this browser. */
import { useLocalStorage } from "@vueuse/core";
import { reactive } from "vue";

/** `names`: those that can be left out, by what they are called; `usual`: shown until one chooses. */
export function useColumns(table: string, names: Record<string, string>, usual: string[]) {
  const shown = useLocalStorage<string[]>(`fuoco-columns-${table}`, usual);
  return reactive({ names, shown, has: (name: string) => shown.value.includes(name) });
}
