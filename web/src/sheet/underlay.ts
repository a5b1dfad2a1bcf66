/** The picture of a plan under the sheet: where its pixels lie, and how two known points scale and turn it. */
import type { Point, Underlay } from "../api/client";
import { clean } from "../job/edit";
import type { View } from "./view";

const round = (v: number) => Math.round(v * 1e9) / 1e9;

/** A picture put into the middle of a view, as wide as most of it. */
export function placed(file: { id: string; width_px: number; height_px: number }, name: string, view: View): Underlay {
  const width = (0.8 * view.view.width) / view.view.scale;
  const m_per_px = round(Math.min(width / file.width_px, (0.8 * view.view.height) / view.view.scale / file.height_px));
  const at: Point = [clean(view.view.x - (file.width_px * m_per_px) / 2), clean(view.view.y - (file.height_px * m_per_px) / 2)];
  return { file_id: file.id, name, width_px: file.width_px, height_px: file.height_px, at, m_per_px, turn_deg: 0, strength: 0.5 };
}

/** CSS matrix that lays the picture's pixels (from its upper left corner, down) onto the screen. */
export function matrix(u: Underlay, view: View): string {
  const turn = ((u.turn_deg ?? 0) * Math.PI) / 180;
  const [c, s] = [Math.cos(turn), Math.sin(turn)];
  const px = u.m_per_px * view.view.scale;
  const [ax, ay] = u.at as Point;
  const height = u.height_px * u.m_per_px;
  const [e, f] = view.toScreen([ax - s * height, ay + c * height]);
  return `matrix(${px * c}, ${-px * s}, ${px * s}, ${px * c}, ${e}, ${f})`;
}

/** The picture's four corners on the plan, m. */
export function corners(u: Underlay): Point[] {
  const turn = ((u.turn_deg ?? 0) * Math.PI) / 180;
  const [c, s] = [Math.cos(turn), Math.sin(turn)];
  const [w, h] = [u.width_px * u.m_per_px, u.height_px * u.m_per_px];
  const [x, y] = u.at as Point;
  return ([[0, 0], [w, 0], [w, h], [0, h]] as Point[]).map(([a, b]) => [x + a * c - b * s, y + a * s + b * c]);
}

/** Grows or shrinks the picture about its first point so that the two points are `distance` metres apart. */
export function scaled(u: Underlay, a: Point, b: Point, distance: number): Underlay {
  const now = Math.hypot(b[0] - a[0], b[1] - a[1]);
  const factor = distance / now;
  const [x, y] = u.at as Point;
  return { ...u, m_per_px: round(u.m_per_px * factor), at: [clean(a[0] + (x - a[0]) * factor), clean(a[1] + (y - a[1]) * factor)] };
}

/** Turns the picture about its first point so that the line of the two runs level or upright, whichever is nearer. */
export function levelled(u: Underlay, a: Point, b: Point): Underlay {
  const slant = (Math.atan2(b[1] - a[1], b[0] - a[0]) * 180) / Math.PI;
  return turned(u, a, Math.round(slant / 90) * 90 - slant);
}

/** Turns the picture about a point, degrees anticlockwise. */
export function turned(u: Underlay, about: Point, degrees: number): Underlay {
  const turn = (degrees * Math.PI) / 180;
  const [c, s] = [Math.cos(turn), Math.sin(turn)];
  const [x, y] = [(u.at as Point)[0] - about[0], (u.at as Point)[1] - about[1]];
  const sum = (u.turn_deg ?? 0) + degrees;
  return { ...u, turn_deg: Math.round((((sum % 360) + 540) % 360 - 180) * 1000) / 1000, at: [clean(about[0] + c * x - s * y), clean(about[1] + s * x + c * y)] };
}
