/** The trade's words for what the document calls by codes. The papers are written with the same ones. */
import words from "../../crates/documents/data/words.json";

export const USES = words.uses;
/** What a new job is. */
export const JOB_KINDS = words.job_kinds;
/** How far a job is. */
export const STAGES = words.stages;
export const BEYOND = words.beyond;
export const OPENINGS = words.openings;
export const KEEP_OUTS = words.keep_outs;
export const COVERINGS = words.coverings;
/** What people may do on a server that others reach. */
export const ROLES = words.roles;
export const ROLES_DO = words.roles_do;
/** Of the site: how far a loop is, what happened to a tube, how it was mended, when a gauge was read, who signs, how a test ends. */
export const LAY_STEPS = words.lay_steps;
export const HARMS = words.harms;
export const MENDS = words.mends;
export const DURING = words.during;
export const SIGNED_AS = words.signed_as;
export const MEDIA = words.media;
export const VERDICTS = words.verdicts;
/** What a link is for. */
export const PURPOSES = words.purposes;
export const MARKS = words.marks;
export const EMITTERS = words.emitters;
export const PATTERNS = words.patterns;
export const POSITIONS = words.positions;
export const CAUSES = words.causes;
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
export const OTHER_SIDES = words.other_sides;
export const AIR_BY = words.air_by;
export const PLATES = words.plates;
export const PREFERENCES = words.preferences;
export const BREACHES = words.breaches;
export const REMEDIES = words.remedies;
/** Where the flow is neither, figures of either may be true. */
export const REGIMES = words.regimes;
/** Groups of articles, in the order of the lists. */
export const GROUPS = words.groups;
/** The same as the customer reads them, their work included. */
export const OFFERED = words.offered;
/** Where the crew takes care along a loop. */
export const CAUTIONS = words.cautions;
/** How loops come out of coils, and what a plan of them has least of. */
export const SCHOOLS = words.schools;
export const OBJECTIVES = words.objectives;
/** How a source's water comes to the circuits. */
export const ARRANGEMENTS = words.arrangements;
export const SOURCES = words.sources;
/** How melting is started, and what an area outdoors is used for. */
export const MELT_CONTROLS = words.melt_controls;
export const MELT_USES = words.melt_uses;
/** How rooms are controlled over the time. */
export const TIME_CONTROLS = words.time_controls;
/** Why loops are shut in summer. */
export const SHUT_FOR = words.shut_for;
export const MIXINGS = words.mixings;
export const CONTROLS = words.controls;
export const PATTERNS_OF_RADIATORS = words.patterns_of_radiators;
