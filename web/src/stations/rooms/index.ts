/** Rooms: the plan, drawn or typed. */
import { store } from "../../job/store";
import { glyphs } from "../../kit/glyphs";
import { meltOf } from "../../job/melt";
import { show } from "../../units";
import { MELT_USES } from "../../words";
import { defineStation } from "../station";
import DrawBar from "./DrawBar.vue";
import RoomsGhost from "./RoomsGhost.vue";
import RoomsLabels from "./RoomsLabels.vue";
import RoomsLedger from "./RoomsLedger.vue";
import RoomsOver from "./RoomsOver.vue";
import { roomTools } from "./tools";

export const rooms = defineStation({
  id: "rooms",
  name: "Rooms",
  outdoors: "Areas",
  path: "rooms",
  icon: glyphs.room,
  sheet: {
    bar: DrawBar,
    tools: roomTools,
    under: RoomsGhost,
    over: RoomsOver,
    labels: RoomsLabels,
    drawing: true,
    rooms: () => ({
      lines: (room, d) => (d ? [`${show("area", d.area_m2, store.units.value)} · ${store.job.value?.outdoors ? MELT_USES[meltOf(room).use] : room.unheated ? "unheated" : show("temperature", room.room_c, store.units.value)}`] : []),
    }),
  },
  ledgers: { Ledger: RoomsLedger },
});
