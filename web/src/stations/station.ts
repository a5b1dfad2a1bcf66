/** What a station declares: see `docs/contributing.md`, "A new station". */
import type { Component, ComputedRef } from "vue";
import type { Room, RoomDesign, Station as StationId, StationMark } from "../api/client";
import type { MakeToolbox } from "../sheet/tool";

/** How rooms look on the sheet of a station. */
export interface RoomLook {
  /** Shade of a room's floor, by id. */
  shades?: ComputedRef<Record<string, string>>;
  /** What hovering over a room says, by id. */
  titles?: ComputedRef<Record<string, string>>;
  /** Lines under a room's name. */
  lines?: (room: Room, design: RoomDesign | undefined) => string[];
  /** Without names where other labels fill the plan. */
  nameless?: boolean;
}

/** What a station adds to the plan. */
export interface SheetPart {
  /** Bar above the plan. */
  bar?: Component;
  /** What is shown first instead of the plan: the bar leads back to it. */
  back?: string;
  tools?: MakeToolbox;
  /** Layers in metres, under the rooms and over them. */
  under?: Component;
  over?: Component;
  /** Layer in pixels, over all others. */
  labels?: Component;
  /** Legend at the foot of the sheet. */
  legend?: Component;
  /** A composable: called once, when the sheet comes up. */
  rooms?: () => RoomLook;
  /** Rooms and levels are drawn here: the picture under the plan stands out. */
  drawing?: boolean;
}

/** A view in place of the plan. */
export interface ViewPart {
  component: Component;
  /** It leaves no room for the ledger. */
  whole?: boolean;
}

export interface StationPart {
  id: StationId;
  name: string;
  /** What it is called in a job of areas outdoors, where that is another word. */
  outdoors?: string;
  /** In which jobs it is there; absent: in all. */
  only?: "house" | "outdoors";
  /** In the address. */
  path: string;
  icon: Component;
  /** The plan with what this station adds; none where it is never shown here. */
  sheet?: SheetPart;
  /** Views by the name that they have in the address (`?view=`); "plan" is the sheet. */
  views?: Record<string, ViewPart>;
  /** The view that is shown first; the sheet where none is named. */
  first?: string;
  /** Tables under the plan, by what they are called. */
  ledgers?: Record<string, Component>;
  /** What the inspector shows here of a thing chosen, by kind, in place of what it shows elsewhere. */
  inspectors?: Partial<Record<string, Component>>;
  /** How far its work is, where the records of the site tell it and not the design. */
  progress?: () => StationMark["progress"] | undefined;
  /** The station fills the window: no verdict stands beside it. */
  alone?: boolean;
}

export const defineStation = (station: StationPart): StationPart => station;
