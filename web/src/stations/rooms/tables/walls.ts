import type { Room } from "../../../api/client";
import { wallName, walls } from "../../../job/edit";
import { store } from "../../../job/store";
import type { Choice } from "../../../kit/ChoiceField.vue";
import { show } from "../../../units";

/** The walls of a room by where they face and how long they are. */
export const wallsOf = (room: Room): Choice<number>[] => walls(room).map((w) => ({ value: w.edge, text: `${wallName(w, store.job.value?.site.north_deg)}, ${show("length", w.length, store.units.value)}` }));

/** Things that rooms hold, each with its room and its place in the room's list. */
export const held = <T>(list: (room: Room) => T[] | undefined) => (store.job.value?.rooms ?? []).flatMap((room) => (list(room) ?? []).map((it, i) => ({ room, it, i })));
