/** What the bench knows: the sheet as saved, the draft, what is chosen, how it is looked at. All else is computed. */

import { create } from "zustand";
import type { Address, Bench, Clip, Cover, Description, MovedPart, Offer, PartDescription, Sheet } from "../api/client";
import { type Refining } from "../api/pictures";
import type { Side } from "../document/edit";
import type { Point, Size, Zoom } from "../document/zoom";

export type ViewName = "picture" | "lattice" | "matte" | "cutout" | "outline" | "difference" | "surround" | "beyond";
export type Ground = "grey" | "black" | "white" | "checker";

/** How the result is held against the source. */
export type Compare = "none" | "wipe" | "two-up" | "in turn";
/** What stands in the strip between picture and tray. */
export type Panel = "none" | "ribbon" | "variants" | "scopes";
/** What of a region the tray shows. */
export type RegionTab = "parts" | "edge" | "refine" | "pieces" | "alike" | "use" | "time";
/** What a stroke does, or a sample. */
export type Does = "add" | "erase";
export type SampleMode = "set" | Does;
export type LatticeLook = {
  readonly thread: "auto" | "light" | "dark" | "lichen";
  readonly density: "open" | "even" | "dense";
  readonly inside: boolean;
};

/** Views that speak of one region. */
export const OF_A_REGION: ReadonlySet<ViewName> = new Set(["lattice", "matte", "cutout", "outline", "surround"]);

export type Selection =
  | { readonly kind: "nothing" }
  | { readonly kind: "what"; readonly pass: string; readonly side: Side; readonly group: string; readonly adjustment: string }
  | {
      readonly kind: "draw";
      readonly part: string;
      readonly region: string | null;
      readonly join: "add" | "subtract" | "intersect";
      readonly pass: string | null;
    }
  | { readonly kind: "where"; readonly pass: string | null; readonly region: string | null; readonly part: string | null };

type Saving = "saved" | "saving" | "offline" | "stale" | "refused";
type Picture = "loading" | "coarse" | "exact" | "failed";

export type BenchState = {
  readonly at: Address | null;
  readonly saved: Bench | null;
  readonly sheet: Sheet;
  readonly told: readonly Description[];
  readonly parts: readonly PartDescription[];
  /** of a clip: in which frames its covers hold */
  readonly covers: readonly Cover[];
  readonly selection: Selection;
  readonly dragging: boolean;
  /** a value is held, and has not moved for a while */
  readonly still: boolean;
  /** what a starter would make of the sheet, while one rests on it */
  readonly peek: Sheet | null;
  readonly saving: Saving;
  readonly problem: string;
  /** a region that was laid on what moves and is to go along with it */
  readonly toFollow: readonly string[];
  /** what was just done and can be taken back, said for a while */
  readonly done: Done | null;
  readonly view: ViewName;
  /** the view that was left for the one that a part in hand needs, until that part is let go */
  readonly lent: ViewName | null;
  readonly ground: Ground;
  readonly lattice: LatticeLook;
  readonly compare: Compare;
  /** where the wipe line stands, as a share of the stage's width */
  readonly wipe: number;
  /** the shot that stands beside this one in two-up; null: the source */
  readonly beside: string | null;
  readonly panel: Panel;
  readonly regionTab: RegionTab;
  readonly zoom: Zoom | null;
  /** a place that is pointed out, in full-size pixels, until something else is chosen */
  readonly mark: Point | null;
  readonly stage: Size | null;
  readonly source: boolean;
  readonly exaggerated: boolean;
  readonly fullscreen: boolean;
  readonly picture: Picture;
  readonly refining: Refining;
  readonly does: Does;
  readonly sampleMode: SampleMode;
  /** whether a press on the picture tells the pass in hand what is grey */
  readonly balancing: boolean;
  /** the size of the brush that marks an edge to be resolved, in picture heights */
  readonly band: number;
  /** what was found in the shot, while it is offered */
  readonly suggestions: readonly Offer[];
  readonly starting: boolean;
  /** what makes the shot a clip; null: a still */
  readonly clip: Clip | null;
  /** the shot's size in pixels */
  readonly size: Size | null;
  /** where in time the bench stands */
  readonly frame: number | null;
  /** how moving parts stand there, as the server told; null: not known yet */
  readonly moved: readonly MovedPart[] | null;
  /** the frames that are played in a loop and exported; null: all */
  readonly range: { readonly first: number; readonly last: number } | null;
  readonly playing: boolean;
  /** what playing had to do without, in words */
  readonly slow: string;
};

export type Done = { readonly says: string; readonly undo: () => void };

export const NOTHING: Selection = { kind: "nothing" };
const EMPTY: Sheet = { version: 2, regions: [], passes: [] };

export const FRESH: BenchState = {
  at: null,
  saved: null,
  sheet: EMPTY,
  told: [],
  parts: [],
  covers: [],
  toFollow: [],
  selection: NOTHING,
  dragging: false,
  still: false,
  peek: null,
  saving: "saved",
  problem: "",
  done: null,
  view: "picture",
  lent: null,
  ground: "grey",
  lattice: { thread: "auto", density: "even", inside: false },
  compare: "none",
  wipe: 0.5,
  beside: null,
  panel: "none",
  regionTab: "parts",
  zoom: null,
  mark: null,
  stage: null,
  source: false,
  exaggerated: false,
  fullscreen: false,
  picture: "loading",
  refining: "no",
  does: "add",
  sampleMode: "set",
  balancing: false,
  band: 0.04,
  suggestions: [],
  starting: false,
  clip: null,
  size: null,
  frame: null,
  moved: null,
  range: null,
  playing: false,
  slow: "",
};

export const useBench = create<BenchState>()(() => FRESH);

/** Opens a strip, or closes it when it is open. */
export function togglePanel(strip: Panel): void {
  useBench.setState((state) => ({ panel: state.panel === strip ? "none" : strip }));
}

/** Brings a place into the middle of the stage and marks it. */
export function pointOut(place: Point, scale: number): void {
  const { stage } = useBench.getState();
  if (!stage) return;
  const zoom = { scale, x: stage.width / 2 - place.x * scale, y: stage.height / 2 - place.y * scale };
  useBench.setState({ zoom, mark: place });
}

export function select(choice: Selection): void {
  // another part begins by putting in, and with a sample of its own; what was offered goes with the drawing
  const anew = { does: "add", sampleMode: "set" } as const;
  useBench.setState(({ selection: before, suggestions: offers, lent, view }) => ({
    // the view that a painted part needed goes back with it
    ...(lent && choice.kind !== "where" && { lent: null, view: view === "lattice" ? lent : view }),
    selection: choice,
    mark: null,
    balancing: false,
    suggestions: choice.kind === "draw" ? offers : [],
    ...(handOf(before) !== handOf(choice) && anew),
  }));
}

/** What of a region is in hand, as a word. */
function handOf(choice: Selection): string {
  return choice.kind === "where" ? `${choice.region} ${choice.part}` : choice.kind;
}

/** The region that the views of a region speak of: the chosen one, or that of the chosen pass. */
export function regionInView(state: BenchState): string | null {
  const { selection: choice, sheet } = state;
  if ((choice.kind === "where" || choice.kind === "draw") && choice.region) return choice.region;
  if (choice.kind === "what") return sheet.passes.find((pass) => pass.id === choice.pass)?.region ?? null;
  return sheet.regions.length === 1 ? (sheet.regions[0]?.id ?? null) : null;
}

export function passInHand(state: BenchState): string | null {
  return state.selection.kind === "nothing" ? null : state.selection.pass;
}
