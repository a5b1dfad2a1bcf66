/** The circuits of the job, a row for each: every loop, and the circuits of every field at the port that they share. */
import { computed } from "vue";
import type { LoopDesign } from "../../api/client";
import { fieldRows, type FieldRow } from "../../job/fields";
import { store } from "../../job/store";
import type { Column } from "../../kit/table";

export interface CircuitRow {
  id: string;
  tag: string;
  rooms: string;
  loop?: LoopDesign;
  field?: FieldRow;
}

export function useCircuits() {
  const { job, design } = store;
  const names = (ids: string[]) => ids.map((id) => job.value?.rooms.find((r) => r.id === id)?.name).join(", ");
  const rows = computed<CircuitRow[]>(() => [
    ...(design.value?.loops ?? []).map((loop) => ({ id: loop.id, tag: loop.tag, rooms: names(loop.room_ids), loop })),
    ...fieldRows(job.value, design.value).map((field) => ({ id: field.id, tag: field.tag, rooms: field.name, field })),
  ]);
  return rows;
}

export const WHICH: Column<CircuitRow>[] = [
  { key: "loop", head: "Loop", value: (r) => r.tag },
  { key: "rooms", head: "Rooms", value: (r) => r.rooms },
];
