/** What is shown of a thing chosen, by its kind; a station may show something of its own instead. */
import type { Component } from "vue";
import LoopPanel from "../stations/loops/LoopPanel.vue";
import KeepOutInspector from "./KeepOutInspector.vue";
import ManifoldInspector from "./ManifoldInspector.vue";
import MarkInspector from "./MarkInspector.vue";
import OpeningInspector from "./OpeningInspector.vue";
import RoomInspector from "./RoomInspector.vue";
import WallInspector from "./WallInspector.vue";

export const INSPECTORS: Record<string, Component> = {
  room: RoomInspector,
  wall: WallInspector,
  opening: OpeningInspector,
  keep_out: KeepOutInspector,
  mark: MarkInspector,
  manifold: ManifoldInspector,
  loop: LoopPanel,
};
