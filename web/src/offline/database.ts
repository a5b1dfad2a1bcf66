/** A database of the browser, opened when it is first asked for, and again after it was lost. */
import { openDB, type DBSchema, type IDBPDatabase } from "idb";

export function keptDatabase<S extends DBSchema>(name: string, make: (db: IDBPDatabase<S>) => void): () => Promise<IDBPDatabase<S>> {
  let opened: Promise<IDBPDatabase<S>> | null = null;
  const lost = () => (opened = null);
  return () =>
    (opened ??= openDB<S>(name, 1, { upgrade: make, terminated: lost }).catch((e: unknown) => {
      lost();
      throw e;
    }));
}
