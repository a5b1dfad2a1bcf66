/** The trade's words for what the document calls by codes. */
export const USES = { living: "Living", work: "Work", hall: "Hall", bath: "Bath, shower", corridor: "Corridor", store: "Store", plant: "Plant room" } as const;
export const BEYOND = { outside: "outside", ground: "ground", heated: "as warm as here", unheated: "unheated space" } as const;
export const OPENINGS = { window: "Window", outside_door: "Outside door", doorway: "Doorway", sleeve: "Sleeve" } as const;
export const KEEP_OUTS = { cabinet: "Cabinet", fixture: "Fixture", bolt_down: "Bolt-down spot" } as const;
export const PATTERNS = { auto: "by the room", serpentine: "Serpentine", counterflow: "Counterflow" } as const;
export const CAUSES = {
  outside_wall: "Walls",
  window: "Windows",
  outside_door: "Doors",
  roof: "Roof, ceiling",
  partition: "Partitions",
  floor: "Floor",
  air: "Air",
} as const;
