/** The stations in the order of the work. A new one is a folder and a line here. */
import type { Job } from "../api/client";
import { cooling } from "./cooling";
import { floor } from "./floor";
import { heatLoss } from "./heat-loss";
import { laying } from "./laying";
import { loops } from "./loops";
import { materials } from "./materials";
import { papers } from "./papers";
import { plant } from "./plant";
import { rooms } from "./rooms";
import { service } from "./service";
import { snow } from "./snow";
import { site } from "./site";
import { startUp } from "./start-up";
import type { StationPart } from "./station";
import { time } from "./time";
import { water } from "./water";

export const STATIONS: StationPart[] = [site, rooms, heatLoss, snow, floor, loops, water, plant, cooling, time, materials, laying, startUp, service, papers];

/** Those of a job: a house has a heat loss, an area outdoors has snow. */
export const stationsOf = (job: Job | null): StationPart[] => STATIONS.filter((s) => !s.only || s.only === (job?.outdoors ? "outdoors" : "house"));
export const nameOf = (station: StationPart, job: Job | null): string => (job?.outdoors && station.outdoors) || station.name;

/** The key of a station: its number in the order of the work; the papers have 0, what came between them has none. */
const numbered = (job: Job | null) => stationsOf(job).filter((s) => ![cooling, time, startUp, service].includes(s));
export const keyOf = (station: StationPart, job: Job | null): string => {
  const number = numbered(job).indexOf(station) + 1;
  return number ? String(number % 10) : "";
};
export const stationOfKey = (key: string, job: Job | null): StationPart | undefined => numbered(job).find((s) => keyOf(s, job) === key);

export const stationAt = (path: string, job: Job | null): StationPart => stationsOf(job).find((s) => s.path === path) ?? rooms;
export const pathOf = (id: StationPart["id"]): string => STATIONS.find((s) => s.id === id)?.path ?? rooms.path;
