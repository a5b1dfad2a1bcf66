/** Tools of the sheet: what the pointer does there. A station brings a box of them. */
import { computed, reactive, type Component } from "vue";
import type { Point } from "../api/client";
import type { View } from "./view";

/** The pointer on the sheet. */
export interface SheetPointer {
  /** On the plan, m. */
  at: Point;
  /** In the window, pixels. */
  screen: Point;
  target: Element;
  /** Alt: the thing alone, off the grid. */
  alone: boolean;
}

export interface SheetTool {
  id: string;
  name: string;
  /** What it is called in a job of areas outdoors, where that is another word. */
  outdoors?: string;
  key?: string;
  icon?: Component;
  /** Not in the bar: chosen from a panel of its own. */
  aside?: boolean;
  /** Whether the job at hand has use for it; absent: every job. */
  fits?(): boolean;
  /** Whether it took the pointer; what no tool takes moves the sheet. */
  down(p: SheetPointer): boolean | void;
  move?(p: SheetPointer): void;
  up?(): void;
  /** Gives up what is under way, as if it had never begun. Returns whether there was something. */
  cancel?(): boolean | void;
  /** Enter. */
  finish?(): void;
  /** A key of its own while it is chosen. Returns whether it is one. */
  letter?(key: string): boolean;
  /** What to do next, in a sentence. */
  hint(): string;
}

/** `hand`: what the tools share and the sheet draws. */
export interface Toolbox<Hand extends object = object> {
  hand: Hand & { tool: string; problem: string };
  tools: SheetTool[];
  active: SheetTool;
  choose(id: string): void;
  /** A key anywhere on the page. Returns whether it was one of the box's. */
  letter(key: string): boolean;
  /** Arrow keys: moves what is chosen. Returns whether anything was there to move. */
  nudge?(by: Point): boolean;
}

export interface Habits {
  /** Arrow keys: moves what is chosen. Returns whether anything was there to move. */
  nudge?: (by: Point) => boolean;
  /** Esc with the first tool in hand. */
  deselect?: () => void;
  /** A tool was chosen. */
  chosen?: (id: string) => void;
}

/** The first tool is the one that is chosen when nothing else is. */
export function toolbox<Hand extends object>(shared: Hand & { tool: string; problem: string }, tools: SheetTool[], habits: Habits = {}): Toolbox<Hand> {
  const hand = reactive(shared) as typeof shared;
  const active = computed(() => tools.find((t) => t.id === hand.tool) ?? tools[0]!);
  function choose(id: string) {
    active.value.cancel?.();
    hand.problem = "";
    hand.tool = id;
    habits.chosen?.(id);
  }
  function letter(key: string): boolean {
    if (key === "escape") {
      if (active.value.cancel?.() === true) return true;
      if (hand.tool === tools[0]!.id) habits.deselect?.();
      else choose(tools[0]!.id);
      return true;
    }
    if (key === "enter" && active.value.finish) {
      active.value.finish();
      return true;
    }
    if (active.value.letter?.(key)) return true;
    const tool = tools.find((t) => t.key?.toLowerCase() === key && (t.fits?.() ?? true));
    if (tool) choose(tool.id);
    return Boolean(tool);
  }
  return reactive({ hand, tools, active, choose, letter, nudge: habits.nudge }) as Toolbox<Hand>;
}

export type MakeToolbox = (view: View) => Toolbox;
