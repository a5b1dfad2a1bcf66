/** Places on a plan, and directions as people on site say them. */
import type { Point, Room, Spot } from "../../api/client";
import { inside } from "../../job/edit";

/** Counterclockwise from east, with north up. */
export const DIRECTIONS = [
  { id: "n", text: "north", deg: 90 },
  { id: "ne", text: "north-east", deg: 45 },
  { id: "e", text: "east", deg: 0 },
  { id: "se", text: "south-east", deg: 315 },
  { id: "s", text: "south", deg: 270 },
  { id: "sw", text: "south-west", deg: 225 },
  { id: "w", text: "west", deg: 180 },
  { id: "nw", text: "north-west", deg: 135 },
];

/** An angle turned by another, 0 to 360. */
export const turned = (deg: number, by: number): number => (((deg + by) % 360) + 360) % 360;

/** The nearest of the eight. */
export const directionOf = (deg: number): string => DIRECTIONS.find((d) => d.deg === (Math.round(deg / 45) * 45) % 360)!.id;

/** The room that holds a place. */
export const roomAt = (rooms: Room[], spot: Spot | null | undefined): Room | undefined => (spot ? rooms.find((r) => r.level_id === spot.level_id && inside(r.outline as Point[], spot.at as Point)) : undefined);

/** The box around points with some room, the plan's y-axis upward. */
export function around(points: Point[]): { x: number; y: number; width: number; height: number } {
  if (!points.length) return { x: 0, y: 0, width: 1, height: 1 };
  const [xs, ys] = [points.map((p) => p[0]), points.map((p) => -p[1])];
  const [x, y] = [Math.min(...xs) - 0.6, Math.min(...ys) - 0.6];
  return { x, y, width: Math.max(...xs) + 0.6 - x, height: Math.max(...ys) + 0.6 - y };
}
