/** Beginning something on the draft: the server chooses ids, names and values that fit the picture. */

import { kindNamed } from "../api/answers";
import { type Adjustment, api, asked, Refusal, type Sheet, type Stroke } from "../api/client";
import { DRAFT, onDraft } from "../api/draft";
import type { Corners } from "../document/corners";
import { pointsOf, type Side, type Value } from "../document/edit";
import type { Copied } from "./looks";
import { change } from "./saving";
import { type Selection, select, useBench } from "./store";

type What =
  | { readonly what: "starter"; readonly id: string; readonly region: string | null }
  | { readonly what: "look"; readonly id: string; readonly look: Record<string, unknown> | null }
  | { readonly what: "adjustment"; readonly id: string; readonly side: Side; readonly region: string | null }
  | { readonly what: "feature"; readonly id: string; readonly faces: number[] }
  | ({ readonly what: "region" } & Drawn)
  | ({ readonly what: "part"; readonly region: string; readonly join: Join } & Drawn);

type Drawn = {
  readonly id: string;
  readonly values: Readonly<Record<string, Value>>;
  readonly points: number[][];
  readonly freehand: boolean;
  readonly strokes: Stroke[];
};

/** What was asked to begin last: the next begins on what that leaves. */
let turn: Promise<unknown> = Promise.resolve();
/** A draft that changes while something is begun on it is begun on anew, so often. */
const TRIES = 5;
/** And so long after the server was too busy for it, in milliseconds. */
const AGAIN_MS = 1000;

function begun(what: What): Promise<string | null> {
  const mine = turn.then(() => begunNow(what, TRIES));
  turn = mine;
  return mine;
}

async function begunNow(what: What, tries: number): Promise<string | null> {
  const { at, sheet } = useBench.getState();
  if (!at) return null;
  try {
    const neutral = { side: "inside" as const, region: null, join: "add" as const, values: {}, points: [], strokes: [], freehand: false, faces: [] };
    const body = { ...neutral, ...what };
    const started = await onDraft(at, sheet, (path) => asked(api.POST(`${DRAFT}/start`, { params: { path }, body })));
    const now = useBench.getState();
    // another shot was opened meanwhile
    if (now.at?.shot !== at.shot) return null;
    // what was changed meanwhile must not be lost
    if (now.sheet !== sheet && tries > 1) return begunNow(what, tries - 1);
    change(started.sheet, label(what));
    // it was laid on what moves: it goes along
    if (started.follows.length > 0) useBench.setState({ toFollow: started.follows });
    return started.id;
  } catch (error) {
    // what is shown of all starters may still be under way: what somebody pressed is not given up for that
    if (error instanceof Refusal && error.status === 503 && tries > 1) {
      await new Promise((go) => setTimeout(go, AGAIN_MS));
      return begunNow(what, tries - 1);
    }
    if (error instanceof Refusal) useBench.setState({ problem: error.message });
    return null;
  }
}

function label(what: What): string {
  switch (what.what) {
    case "look":
      return "lay a look";
    case "starter":
      return `start ${what.id}`;
    case "adjustment":
      return `start ${what.id}`;
    case "region":
    case "feature":
      return `new ${what.id}`;
    case "part":
      return `${what.join} a ${what.id}`;
  }
}

/** The sheet as a starter would leave it; nothing is begun. */
export async function withStarter(id: string, region: string | null, signal: AbortSignal | null = null): Promise<Sheet | null> {
  const { at, sheet } = useBench.getState();
  if (!at) return null;
  const neutral = { side: null, join: "add" as const, values: {}, points: [], strokes: [], freehand: false, faces: [] };
  const body = { ...neutral, what: "starter" as const, id, region };
  return (await onDraft(at, sheet, (path) => asked(api.POST(`${DRAFT}/start`, { params: { path }, body, signal })))).sheet;
}

export async function beginStarter(id: string, region: string | null): Promise<void> {
  const pass = await begun({ what: "starter", id, region });
  if (pass) showWhere(pass);
}

export async function beginLook(id: string): Promise<void> {
  const pass = await begun({ what: "look", id, look: null });
  if (pass) showWhere(pass);
}

/** Lays what was copied on this shot. */
export async function beginCopied({ name, look }: Copied): Promise<void> {
  const pass = await begun({ what: "look", id: name, look });
  if (pass) showWhere(pass);
}

/** Begins one adjustment; without a side on the one where it is usual. */
export async function beginAdjustment({ id, group, side: usual }: Adjustment, region: string | null, side: Side = usual): Promise<void> {
  const on = region ? side : "inside";
  const pass = await begun({ what: "adjustment", id, side: on, region });
  if (pass) select({ kind: "what", pass, side: on, group, adjustment: id });
}

/** Makes a region of a feature of some faces that were found; without any of all. */
export async function beginFeature(id: string, faces: readonly number[]): Promise<void> {
  useBench.setState({ suggestions: [] });
  const region = await begun({ what: "feature", id, faces: [...faces] });
  if (region) select({ kind: "where", pass: null, region, part: null });
}

export type Draw = Extract<Selection, { readonly kind: "draw" }>;
type Join = Draw["join"];

/** Lets a new region be drawn, or a part that joins one. */
export function beginDrawing(region: string | null, join: Join): void {
  const { selection: choice } = useBench.getState();
  // what was pressed to get here must not take the keys of drawing
  if (document.activeElement instanceof HTMLElement) document.activeElement.blur();
  select({ kind: "draw", part: "ellipse", region, join, pass: choice.kind === "nothing" ? null : choice.pass });
}

/**
 * Makes a region, or a part of one, of what was drawn; without values and points it stands in the middle. `freehand`
 * points are the way of a pen: a curve follows it, an ellipse or a rectangle is laid round the same thing.
 */
export async function beginDrawn(
  draw: Draw,
  values: Readonly<Record<string, Value>>,
  points: Corners,
  freehand = false,
  strokes: readonly Stroke[] = [],
): Promise<{ readonly region: string; readonly part: string } | null> {
  const drawn = { id: draw.part, values, points: pointsOf(points), freehand, strokes: [...strokes] };
  // on the bare picture nobody would see what was painted, or found
  const shown = kindNamed(draw.part)?.brushed;
  useBench.setState(({ view }) => ({ regionTab: "parts", ...(shown && view === "picture" && { view: "lattice", lent: view }) }));
  if (draw.region === null) {
    const region = await begun({ what: "region", ...drawn });
    if (!region) return null;
    select({ kind: "where", pass: null, region, part: null });
    return { region, part: "part-1" };
  }
  const part = await begun({ what: "part", region: draw.region, join: draw.join, ...drawn });
  if (!part) return null;
  select({ kind: "where", pass: draw.pass, region: draw.region, part });
  return { region: draw.region, part };
}

/** Chooses the region of a pass, so that its outline can be moved at once; a pass on the whole picture shows its tray. */
function showWhere(id: string): void {
  const pass = useBench.getState().sheet.passes.find((each) => each.id === id);
  if (!pass) return;
  if (pass.region) select({ kind: "where", pass: id, region: pass.region, part: null });
  else select({ kind: "what", pass: id, side: "inside", group: "Light", adjustment: "" });
}
