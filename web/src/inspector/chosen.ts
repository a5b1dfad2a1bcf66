/** The thing chosen, and edits of it. */
import { computed } from "vue";
import type { Job, Room } from "../api/client";
import * as edit from "../job/edit";
import { heldPath, pathOf } from "../job/paths";
import { store } from "../job/store";

const { job, where } = store;
const id = computed(() => where.selection?.id ?? "");

/** The room chosen, or the room of the wall chosen. */
export function useRoom() {
  const room = computed(() => job.value?.rooms.find((r) => r.id === id.value));
  const change = (label: string, what: (room: Room, job: Job) => void) => store.edit(label, (j) => what(edit.roomOf(j, room.value!.id)!, j));
  const at = computed(() => pathOf(job.value, "rooms", id.value));
  return { room, at, change, set: (values: Partial<Room>) => change("change room", (r) => Object.assign(r, values)) };
}

/** One of the things that rooms hold, with its room. */
export function useHeld<K extends "openings" | "keep_outs">(list: K, word: string) {
  type Held = Room[K][number];
  const room = computed(() => job.value?.rooms.find((r) => (r[list] as { id: string }[]).some((o) => o.id === id.value)));
  const thing = computed(() => (room.value?.[list] as Held[] | undefined)?.find((o) => o.id === id.value));
  const set = (values: Partial<Held>) =>
    store.edit(`change ${word}`, (j) => Object.assign((edit.roomOf(j, room.value!.id)![list] as { id: string }[]).find((o) => o.id === id.value)!, values));
  const at = computed(() => heldPath(job.value, list, room.value?.id, id.value));
  return { room, thing, at, set };
}

export const roomName = (of?: string | null) => job.value?.rooms.find((r) => r.id === of)?.name ?? "a room";
