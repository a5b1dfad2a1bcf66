/** The trade's words for what the document calls by codes. */
export const USES = { living: "Living", bedroom: "Bedroom", kitchen: "Kitchen", bath: "Bath, shower", corridor: "Corridor", work: "Work", hall: "Hall", store: "Store", plant: "Plant room" } as const;
/** What a new job is. */
export const JOB_KINDS = { house_on_slab: "House, floors poured with their tube", retrofit_below: "Retrofit, from below between joists", over_old_slab: "Over an old slab", hall: "Hall or workshop" } as const;
/** How far a job is. */
export const STAGES = { new: "New", surveyed: "Rooms drawn", laid: "Loops laid" } as const;
export const BEYOND = {
  outside: "outside",
  ground: "ground",
  heated: "heated to the same temperature",
  unheated: "unheated, known temperature",
  reduced: "unheated, by its share b",
  crawl_space: "crawl space",
} as const;
export const OPENINGS = { window: "Window", outside_door: "Outside door", doorway: "Doorway", sleeve: "Sleeve", roof_window: "Roof window" } as const;
export const KEEP_OUTS = { cabinet: "Cabinet", furniture: "Fixed furniture", fixture: "Plumbing fixture", drain: "Drain", column: "Column", bolt_down: "Bolt-down spot" } as const;
export const MARKS = { note: "Note", saw_cut: "Saw cut" } as const;
export const EMITTERS = { radiator: "Radiator", baseboard: "Baseboard", convector: "Convector", towel_rail: "Towel rail", fan_coil: "Fan coil", electric_heater: "Electric heater" } as const;
export const PATTERNS = { auto: "by the room", serpentine: "Serpentine", double_serpentine: "Double serpentine", counterflow: "Counterflow" } as const;
export const POSITIONS = { wall: "Outside wall", window: "Window", door: "Outside door", roof: "Roof, ceiling under attic", partition: "Partition", ceiling: "Ceiling between storeys", floor: "Floor" } as const;
export const CAUSES = {
  outside_wall: "Walls",
  window: "Windows",
  outside_door: "Doors",
  roof: "Roof",
  partition: "Rooms beside",
  floor: "Floor",
  bridge: "Bridges",
  air: "Air",
  ventilation: "Ventilation",
} as const;
/** One tint for each cause, told apart by lightness too; the words stand beside them wherever they are used. */
export const CAUSE_TINTS: Record<keyof typeof CAUSES, string> = {
  outside_wall: "#8a4b2d",
  window: "#5f8fb0",
  outside_door: "#c08b4f",
  roof: "#5d5347",
  partition: "#b9ac97",
  floor: "#7d8f5a",
  bridge: "#2f2a25",
  air: "#cfdbe0",
  ventilation: "#93b3a4",
};
export const OTHER_SIDES = { outdoors: "outdoors", ground: "the ground", room: "a room", unheated: "an unheated space", crawl_space: "the crawl space", same: "a space heated to the same temperature" } as const;
export const AIR_BY = { typed: "typed", people: "for people", leaks: "by leaks", extract: "drawn in by the extract" } as const;
export const PLATES = { as_built: "plate as built", none: "no plate", narrow: "plate half as wide", loose: "plate loose, 0.5 mm of air", sealed: "plate with a bead of sealant" } as const;
export const PREFERENCES = { cool_water: "the coolest water", little_tube: "the least tube", quick: "the quickest response", low: "the lowest height" } as const;
export const BREACHES = {
  surface: "surface too warm before it meets the load",
  supply: "water too hot for covering or build-up",
  short: "does not meet the load at this supply",
  striping: "bare feet feel the tubes",
  spacing: "a spacing the firm does not lay",
  covering: "covering holds back too much heat",
} as const;
export const REMEDIES = {
  spacing: "Tighter spacing",
  covering: "Another covering",
  spacing_and_covering: "Tighter spacing and another covering",
  wall_field: "Wall field",
  ceiling_field: "Ceiling field",
  backup: "Backup heat",
  own_circuit: "A circuit of its own, mixed",
} as const;
/** Where the flow is neither, figures of either may be true. */
export const REGIMES = { still: "still", laminar: "laminar", transitional: "between", turbulent: "turbulent" } as const;
/** How a source's water comes to the circuits. */
/** Groups of articles, in the order of the lists. */
export const GROUPS = { tube: "Tube", fixing: "Fixing", floor: "Floor", manifold: "Manifolds", plant: "Plant room", fluid: "Fluid" } as const;
/** How loops come out of coils, and what a plan of them has least of. */
export const SCHOOLS = { cut_as_needed: "long ones, cut as needed", one_per_loop: "one a loop" } as const;
export const OBJECTIVES = { price: "price", waste: "waste", coils: "coils to carry" } as const;

export const ARRANGEMENTS = {
  direct: "Straight from the source",
  tees_in_series: "Tees in series",
  tees_with_headers: "Tees with headers",
  separator: "Hydraulic separator",
  buffer_two_pipe: "Buffer tank, two pipes",
  buffer_four_pipe: "Buffer tank, four pipes",
  two_sources: "Two sources in sequence",
  exchanger: "Heat exchanger",
} as const;
export const SOURCES = {
  condensing_gas: "Condensing gas boiler",
  condensing_oil: "Condensing oil boiler",
  boiler: "Boiler, not condensing",
  electric: "Electric boiler",
  tank_heater: "Tank water heater",
  combined: "Combined water heater",
  solid_fuel: "Solid fuel",
  heat_pump_air: "Heat pump, air",
  heat_pump_ground: "Heat pump, ground",
  existing: "Existing source",
} as const;
export const MIXINGS = { none: "none", thermostatic: "thermostatic valve", three_way: "three-way valve", injection: "injection pump" } as const;
export const CONTROLS = { fixed_speed: "one speed", constant_pressure: "constant pressure", proportional_pressure: "proportional pressure", constant_difference: "constant temperature drop" } as const;
export const PATTERNS_OF_RADIATORS = { column: "columns", tube: "tubes", panel: "panel" } as const;
