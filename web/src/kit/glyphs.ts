/**
 * Signs for the things of a plan, which no general set of icons has; drawn like that set's, in lines on a square of 24.
 * Everything else (delete, undo, print …) comes from Element Plus's icons.
 */
import { h, type FunctionalComponent } from "vue";

const glyph = (path: string): FunctionalComponent => () =>
  h("svg", { viewBox: "0 0 24 24", fill: "none", stroke: "currentColor", "stroke-width": 1.7, "stroke-linecap": "round", "stroke-linejoin": "round", "aria-hidden": "true" }, h("path", { d: path }));

export const glyphs = {
  select: glyph("M6 3l12 9-6 1 4 7-2.5 1.3-3.7-7.2L6 18z"),
  room: glyph("M4 5h16v14H4z"),
  lRoom: glyph("M4 4h8v8h8v8H4z"),
  shape: glyph("M4 9l8-5 8 6-3 10H6z"),
  split: glyph("M4 5h16v14H4zM13 5v5M13 12v3M13 17v2"),
  window: glyph("M3 9h18v6H3zM3 12h18"),
  door: glyph("M4 20V4h3M20 20h-3M4 20h3M7 4a13 13 0 0 1 10 16"),
  doorway: glyph("M2 12h6M16 12h6M8 9v6M16 9v6"),
  sleeve: glyph("M9 4v5M15 4v5M9 15v5M15 15v5M3 12h18"),
  keepOut: glyph("M4 5h16v14H4zM4 19L18 5M4 12l7-7M13 19l7-7"),
  manifold: glyph("M3 8h18M3 14h18M6 8v-3M10 8v-3M14 8v-3M18 8v-3M6 14v6M10 14v6M14 14v6M18 14v6"),
  note: glyph("M4 5h16v11h-7l-4 4v-4H4z"),
  sawCut: glyph("M4 20L20 4M4 20l1-4M8 16l1-4M12 12l1-4M16 8l1-4"),
  picture: glyph("M4 5h16v14H4zM4 16l5-5 4 4 3-3 4 4M15.5 9h.01"),
  files: glyph("M12 3v10M8 9l4 4 4-4M4 15v5h16v-5"),
  loop: glyph("M4 20V5h16v12H8V9h8v4h-4"),
  layers: glyph("M3 7h18M3 12h18M3 17h18M6 14.5h.01M12 14.5h.01M18 14.5h.01"),
  drop: glyph("M12 3c4 5 6 8 6 11a6 6 0 0 1-12 0c0-3 2-6 6-11z"),
  plant: glyph("M4 11h7v9H4zM6 16h3M11 14h4V6h-4M15 10h5M20 6v8M13 6a2 2 0 1 0 .01 0"),
  coil: glyph("M12 4a8 8 0 1 0 .01 0M12 8a4 4 0 1 0 .01 0M20 12v8h-8"),
  laying: glyph("M3 20h18M5 16h4a3 3 0 0 0 0-6H8a3 3 0 0 1 0-6h9M17 4l3 3M13 16l2 2 5-5"),
  startUp: glyph("M12 3v8M7 6a8 8 0 1 0 10 0M9 15l2.2 2.2L15.5 13"),
  service: glyph("M4 20l7-7M20 5a5 5 0 0 1-7 6l-2 2-2-2 2-2a5 5 0 0 1 6-7l-3 3 1 2 2 1zM3.5 17.5l3 3"),
  snow: glyph("M12 3v18M4.2 7.5l15.6 9M19.8 7.5l-15.6 9M9.5 4.5L12 7l2.5-2.5M9.5 19.5L12 17l2.5 2.5"),
  time: glyph("M12 4a8 8 0 1 0 .01 0M12 8v4l3 2"),
  cooling: glyph("M12 3c4 5 6 8 6 11a6 6 0 0 1-12 0c0-3 2-6 6-11zM9 14h6M12 11v6M10 12l4 4M14 12l-4 4"),
  heatLoss: glyph("M4 20V10l8-6 8 6v10zM12 17V9M9.5 11.5L12 9l2.5 2.5"),
  site: glyph("M12 21c5-6 7-9 7-12a7 7 0 0 0-14 0c0 3 2 6 7 12zM12 11.5a2.5 2.5 0 1 0 0-5 2.5 2.5 0 0 0 0 5z"),
  papers: glyph("M6 3h9l4 4v14H6zM15 3v4h4M9 12h7M9 16h7"),
} as const;
