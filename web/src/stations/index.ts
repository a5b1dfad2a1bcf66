/** The stations in the order of the work. A new one is a folder and a line here. */
import { floor } from "./floor";
import { heatLoss } from "./heat-loss";
import { laying } from "./laying";
import { loops } from "./loops";
import { materials } from "./materials";
import { papers } from "./papers";
import { plant } from "./plant";
import { rooms } from "./rooms";
import { service } from "./service";
import { site } from "./site";
import { startUp } from "./start-up";
import type { StationPart } from "./station";
import { water } from "./water";

export const STATIONS: StationPart[] = [site, rooms, heatLoss, floor, loops, water, plant, materials, laying, startUp, service, papers];

/** The key of a station: its number in the order of the work; the papers have 0, what came between them has none. */
const NUMBERED = STATIONS.filter((s) => s !== startUp && s !== service);
export const keyOf = (station: StationPart): string => {
  const number = NUMBERED.indexOf(station) + 1;
  return number ? String(number % 10) : "";
};
export const stationOfKey = (key: string): StationPart | undefined => NUMBERED.find((s) => keyOf(s) === key);

export const stationAt = (path: string): StationPart => STATIONS.find((s) => s.path === path) ?? rooms;
export const pathOf = (id: StationPart["id"]): string => STATIONS.find((s) => s.id === id)?.path ?? rooms.path;
