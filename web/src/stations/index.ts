/** The stations in the order of the work. A new one is a folder and a line here. */
import { floor } from "./floor";
import { heatLoss } from "./heat-loss";
import { laying } from "./laying";
import { loops } from "./loops";
import { materials } from "./materials";
import { papers } from "./papers";
import { plant } from "./plant";
import { rooms } from "./rooms";
import { site } from "./site";
import type { StationPart } from "./station";
import { water } from "./water";

export const STATIONS: StationPart[] = [site, rooms, heatLoss, floor, loops, water, plant, materials, laying, papers];

export const stationAt = (path: string): StationPart => STATIONS.find((s) => s.path === path) ?? rooms;
export const pathOf = (id: StationPart["id"]): string => STATIONS.find((s) => s.id === id)?.path ?? rooms.path;
