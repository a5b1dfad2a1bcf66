/** The server's API with the types made from its own description. */
import createClient from "openapi-fetch";
import { randomId } from "../random";
import type { components, paths } from "./schema.generated";

export type Schemas = components["schemas"];

export type CoolingDesign = Schemas["CoolingDesign"];
export type InTime = Schemas["InTime"];
export type LessonText = Schemas["LessonText"];
export type RigHand = Schemas["Hand"];
export type RigLesson = Schemas["Lesson"];
export type CameraPicture = Schemas["CameraPicture"];
export type RigPlayed = Schemas["RigPlayed"];
export type RigNow = Schemas["RigNow"];
export type RigTrial = Schemas["RigTrial"];
export type Raster = Schemas["Raster"];
export type ThermalPicture = Schemas["ThermalPicture"];
export type TimeTrial = Schemas["TimeTrial"];
export type Summer = Schemas["Summer"];
export type Melt = Schemas["Melt"];
export type MeltControl = Schemas["MeltControl"];
export type OutdoorDesign = Schemas["OutdoorDesign"];
export type OutdoorYear = Schemas["OutdoorYear"];
export type StormRun = Schemas["StormRun"];
export type Instrument = Schemas["Instrument"];
export type Problem = Schemas["Problem"];
export type JobSummary = Schemas["JobSummary"];
export type Start = Schemas["Start"];
export type JobEntry = Schemas["JobEntry"];
export type Library = Schemas["Library"];
export type Tube = Schemas["Tube"];
export type Covering = Schemas["Covering"];
export type PumpModel = Schemas["PumpModel"];
export type Design = Schemas["Design"];
export type RoomDesign = Schemas["RoomDesign"];
export type LoopDesign = Schemas["LoopDesign"];
export type ValveSetting = Schemas["ValveSetting"];
export type RoomMap = Schemas["FloorMap"];
export type LayoutFigures = Schemas["LayoutFigures"];
export type LayoutRemedies = Schemas["LayoutRemedies"];
export type LayoutRemedy = Schemas["LayoutRemedy"];
export type Place = Schemas["Place"];
export type Grip = Schemas["Grip"];
export type ManifoldDesign = Schemas["ManifoldDesign"];
export type Finding = Schemas["Finding"];
export type Subject = Schemas["Subject"];
export type Station = Schemas["Station"];
export type StationMark = Schemas["StationMark"];
export type Beyond = Schemas["Beyond"];
export type Wall = Schemas["Wall"];
export type Opening = Schemas["Opening"];
export type OpeningKind = Schemas["OpeningKind"];
export type KeepOut = Schemas["KeepOut"];
export type Floor = Schemas["Floor"];
export type FloorLattice = Schemas["FloorLattice"];
export type Patch = Schemas["Patch"];
export type Field = Schemas["Field"];
export type BuildUp = Schemas["BuildUp"];
export type BuildLayer = Schemas["BuildLayer"];
export type SectionPicture = Schemas["SectionPicture"];
export type Spot = Schemas["Spot"];
export type Shown = Schemas["Shown"];
export type Sweep = Required<Schemas["Sweep"]>;
export type Variant = Schemas["Variant"];
export type PlateChoice = Schemas["PlateChoice"];
export type Remedy = Schemas["Remedy"];
export type Manifold = Schemas["Manifold"];
export type Level = Schemas["Level"];
export type Underlay = Schemas["Underlay"];
export type Mark = Schemas["Mark"];
export type Emitter = Schemas["Emitter"];
export type Slope = Schemas["Slope"];
export type Material = Schemas["Material"];
export type Construction = Schemas["Construction"];
export type Layer = Schemas["ConstructionLayer"];
export type Position = Schemas["Position"];
export type Weather = Schemas["Weather"];
export type LossPart = Schemas["LossPart"];
export type ImportProblem = Schemas["ImportProblem"];
export type Usual = Schemas["Usual"];
export type FloorCircuit = Schemas["FloorCircuit"];
export type OwnCircuit = Schemas["OwnCircuit"];
export type CircuitDesign = Schemas["CircuitDesign"];
export type Plant = Schemas["Plant"];
export type HeatSource = Schemas["HeatSource"];
export type HeatUser = Schemas["HeatUser"];
export type Feed = Schemas["Feed"];
export type PumpChoice = Schemas["PumpChoice"];
export type PlantState = Schemas["PlantState"];
export type MaterialsDesign = Schemas["MaterialsDesign"];
export type TakeOffLine = Schemas["TakeOffLine"];
export type TubeCoils = Schemas["TubeCoils"];
export type CoilDesign = Schemas["CoilDesign"];
export type CutDesign = Schemas["CutDesign"];
export type OptionDesign = Schemas["OptionDesign"];
export type CircuitState = Schemas["CircuitState"];
export type PlantTrial = Schemas["PlantTrial"];
export type PlantYear = Schemas["PlantYear"];
export type PlantDesign = Schemas["PlantDesign"];
export type ArrangementFigures = Schemas["ArrangementFigures"];
export type WaterTrial = Schemas["WaterTrial"];
export type WaterTried = Schemas["WaterTried"];
export type PortState = Schemas["PortState"];
export type RoomBridge = Schemas["RoomBridge"];
export type Units = Schemas["Units"];
export type PaperEntry = Schemas["PaperEntry"];
export type Firm = Schemas["Firm"];
export type SessionInfo = Schemas["SessionInfo"];
export type Person = Schemas["Person"];
export type Role = Schemas["Role"];
export type Deed = Schemas["Deed"];
export type Link = Schemas["Link"];
export type Purpose = Schemas["Purpose"];
export type SiteRecord = Schemas["Record"];
export type SiteFact = Schemas["Fact"];
export type Entry = Schemas["Entry"];
export type LayingDesign = Schemas["LayingDesign"];
export type LoopLaid = Schemas["LoopLaid"];
export type LayStep = Schemas["LayStep"];
export type PressureTests = Schemas["PressureTests"];
export type StartUpDesign = Schemas["StartUpDesign"];
export type SettingDesign = Schemas["SettingDesign"];
export type HeatUpDesign = Schemas["HeatUpDesign"];
export type HeatUpDay = Schemas["HeatUpDay"];
export type Ranking = Schemas["Ranking"];
export type Expected = Schemas["Expected"];
export type ReadingOf = Schemas["ReadingOf"];
export type Measurand = Schemas["Measurand"];
export type TestLog = Schemas["TestLog"];
export type Contents = Schemas["Contents"];
export type During = Schemas["During"];
export type SignedAs = Schemas["SignedAs"];
export type HarmKind = Schemas["HarmKind"];
export type Mend = Schemas["Mend"];
export type Revision = Schemas["Revision"];
export type StoredFirm = Schemas["StoredFirm"];
export type HouseRules = Schemas["HouseRules"];
export type Point = [number, number];

export type KeptLoop = Omit<Schemas["KeptLoop"], "corners"> & { corners: Point[] };

/** The server writes the lists that a file may leave out. */
export type Room = Omit<Schemas["Room"], "outline"> & {
  outline: Point[];
  walls: Wall[];
  openings: Opening[];
  keep_outs: KeepOut[];
};
export type Job = Omit<Schemas["Job"], "rooms" | "site" | "rules" | "envelope" | "air" | "marks" | "constructions" | "materials" | "build_ups" | "loops"> & {
  rooms: Room[];
  /** Left out where there are none. */
  loops?: KeptLoop[];
  site: Omit<Schemas["Site"], "weather"> & { units: Units; north_deg: number; weather?: Weather | null };
  rules: Required<Schemas["HouseRules"]>;
  envelope: Required<Schemas["Envelope"]>;
  air: Required<Schemas["Air"]>;
  marks: Mark[];
  constructions: Construction[];
  materials: Material[];
  build_ups: BuildUp[];
};
export type Envelope = Job["envelope"];

/** This window, for the server: of a window it works on one design at a time, the newest. */
export const WINDOW = randomId();

/** The name under which something else is asked for that this window waits for at once: the `k`th of several designs, a year. */
export const windowOf = (what: number | string) => `${WINDOW}-${what}`;

export const api = createClient<paths>({ baseUrl: "/", headers: { "X-Fuoco-Window": WINDOW } });

let signedOut = () => {};
/** What is done when the server asks who one is. */
export const whenSignedOut = (then: () => void) => (signedOut = then);
api.use({
  onResponse({ response, request }) {
    // a wrong password is answered where it was typed
    const asked = /\/api\/(session|links\/open)/.test(new URL(request.url).pathname);
    if (response.status === 401 && !asked) signedOut();
  },
});

/** Nobody looks at this window's designs any more: what is still worked on is given up. */
export function leave(window = WINDOW) {
  void fetch(`/api/windows/${window}`, { method: "DELETE", keepalive: true }).catch(() => {});
}

/** How far it has come what a window waits for, 0 to 1; null: it waits for nothing, or nobody says. */
export async function progress(window: string): Promise<number | null> {
  const { data } = await api.GET("/api/windows/{window}", { params: { path: { window } } }).catch(() => ({ data: undefined }));
  return data?.share ?? null;
}

/** A request that did not come back with an answer of the server. */
export class Unreachable extends Error {}

/** A request that the server refused. */
export class Refused extends Error {
  constructor(readonly problem: Problem) {
    super(problem.detail);
  }
}

/** Sends a file as it is; the answer's data, or [`Refused`] or [`Unreachable`]. */
export async function sendFile<T>(path: string, file: Blob, type = "application/octet-stream"): Promise<T> {
  let response: Response;
  try {
    response = await fetch(path, { method: "POST", headers: { "Content-Type": type }, body: file });
  } catch (e) {
    throw new Unreachable(String(e));
  }
  const body = (await response.json().catch(() => null)) as unknown;
  if (response.ok) return body as T;
  const problem = body as Problem | null;
  if (problem?.detail) throw new Refused(problem);
  throw new Unreachable(`The server answered ${response.status}.`);
}

/** The data of an answer; throws [`Refused`] or [`Unreachable`]. */
export async function answer<T>(call: Promise<{ data?: T; error?: unknown; response: Response }>): Promise<T> {
  let got;
  try {
    got = await call;
  } catch (e) {
    throw new Unreachable(String(e));
  }
  if (got.response.ok) return got.data as T;
  const problem = got.error as Problem | undefined;
  if (problem?.detail) throw new Refused(problem);
  throw new Unreachable(`The server answered ${got.response.status}.`);
}
