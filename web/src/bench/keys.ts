/** The keys of the bench. Every action is reachable by one, by Tab, or by both. */

import { kindNamed } from "../api/answers";
import { useEffect } from "react";
import { tinykeys } from "tinykeys";
import type { Size } from "../document/zoom";
import { round, shifted } from "../document/corners";
import { partOf, pointsOf, setPart, setPartValues, setPass } from "../document/edit";
import { duplicate } from "./passes";
import { idOf } from "./keymap";
import { removeInHand } from "./removing";
import { change, step } from "./saving";
import { select, type Compare, NOTHING, passInHand, togglePanel, useBench, type ViewName } from "./store";

/** What goes by other keys than a single one; these stay as they are. */
export const CHORDS: readonly (readonly [string, string])[] = [
  ["Delete", "delete what is in hand: adjustment, part, spare region or pass"],
  ["arrows", "nudge the region, or the handle that Tab has reached; with Shift farther"],
  ["Ctrl Z", "undo"],
  ["Ctrl Shift Z", "redo"],
  ["drag on the picture", "the value in hand up or down, with Shift finer; else the picture"],
  ["hold Space", "drag the picture, past the handles"],
  ["tap Space", "play, stop"],
  ["Ctrl ← →", "a frame back, a frame on"],
  ["Ctrl Shift ← →", "keyframe before, keyframe after"],
  ["Home, End", "first frame, last frame"],
  ["hold Ctrl", "while dragging: snap to the frame's edges and centre lines"],
  ["Esc", "choose nothing, close"],
];

export type Actions = {
  readonly onRegion: () => void;
  readonly onExport: () => void;
  readonly onKeys: () => void;
  readonly onRoom: () => void;
  readonly onShot: (by: number) => void;
  readonly onZoom: (to: "fit" | "one" | "in" | "out") => void;
  readonly picture: Size;
};

const FINE = 0.001;
const COARSE = 0.01;
/** How much larger a brush becomes by a key, and how much harder. */
const STEP = 1.25;
const HARDER = 0.1;

export function typing(event: KeyboardEvent): boolean {
  const target = event.target as HTMLElement;
  return target.matches(TEXT) || target.closest("dialog, [role=dialog], [role=menu]") !== null;
}

/** What is typed into: letters are its own. A radio or a slider takes arrows alone. */
const TEXT = "textarea, select, input:not([type=radio], [type=checkbox], [type=range])";
/** What has the keyboard's focus goes by arrows itself, or by none: never the region instead of it. */
export const FOCUSED = "button, a, input, select, [role=button], [role=tab], [role=option], [role=slider]";

function nudge(dx: number, dy: number, event: KeyboardEvent): void {
  const { selection: choice, sheet } = useBench.getState();
  if (choice.kind !== "where" || !choice.region || (event.target as HTMLElement).matches(FOCUSED)) return;
  const region = sheet.regions.find((each) => each.id === choice.region);
  const id = choice.part ?? region?.parts[0]?.id;
  const part = id ? partOf(sheet, choice.region, id) : undefined;
  if (!id || !part) return;
  event.preventDefault();
  const by = event.shiftKey ? COARSE : FINE;
  const { x, y } = part.values ?? {};
  if (part.points && part.points.length > 0) {
    const points = pointsOf(shifted(part.points, dx * by, dy * by));
    change(setPart(sheet, choice.region, id, { points, path: [] }), "nudge");
  } else if (typeof x === "number" && typeof y === "number") {
    change(setPartValues(sheet, choice.region, id, { x: round(x + dx * by), y: round(y + dy * by) }), "nudge");
  }
}

/** Makes the brush in hand larger by a factor, or harder. */
function resize(factor: number, harder: number): void {
  const { selection: choice, sheet, regionTab: facet, band } = useBench.getState();
  if (choice.kind !== "where" || !choice.region) return;
  if (facet === "edge") {
    useBench.setState({ band: round(band * factor) });
    return;
  }
  const region = sheet.regions.find((each) => each.id === choice.region);
  const part = region?.parts.find((each) => each.id === choice.part) ?? region?.parts[0];
  const kind = part && kindNamed(part.kind);
  if (!part || !kind?.brushed) return;
  const ownSize = Number(kind.parameters.find(({ id }) => id === "size")?.neutral ?? 0.05);
  const { size, hardness } = part.values ?? {};
  const larger = { size: round(Math.min(Math.max(Number(size ?? ownSize) * factor, 0.001), 4)) };
  const rim = { hardness: Math.min(Math.max(Number((Number(hardness ?? 0.7) + harder).toFixed(2)), 0), 1) };
  change(setPartValues(sheet, choice.region, part.id, harder === 0 ? larger : kind.parameters.some(({ id }) => id === "hardness") ? rim : {}), "brush");
}

function togglePass(): void {
  const state = useBench.getState();
  const pass = state.sheet.passes.find((each) => each.id === passInHand(state));
  if (pass) change(setPass(state.sheet, pass.id, { on: !pass.on }), `${pass.name} ${pass.on ? "off" : "on"}`);
}

function withPass(act: (pass: string) => void): void {
  const pass = passInHand(useBench.getState());
  if (pass) act(pass);
}

function escape(): void {
  const { fullscreen: alone, starting, balancing } = useBench.getState();
  if (alone) useBench.setState({ fullscreen: false });
  else if (starting) useBench.setState({ starting: false });
  else if (balancing) useBench.setState({ balancing: false });
  else select(NOTHING);
}

const look = (view: ViewName) => () => useBench.setState({ view });

const compareBy = (way: Compare) => () =>
  useBench.setState(({ compare }) => ({ compare: compare === way ? "none" : way }));

/** What the single keys do. */
function singles(actions: Actions): Readonly<Record<string, (event: KeyboardEvent) => void>> {
  return {
    start: (event) => {
      event.preventDefault();
      useBench.setState({ starting: true });
    },
    region: actions.onRegion,
    picture: look("picture"),
    lattice: look("lattice"),
    matte: look("matte"),
    cutout: look("cutout"),
    outline: look("outline"),
    difference: look("difference"),
    beyond: look("beyond"),
    wipe: compareBy("wipe"),
    "two-up": compareBy("two-up"),
    blink: () => useBench.setState(({ source }) => ({ source: !source })),
    ribbon: () => togglePanel("ribbon"),
    variants: () => togglePanel("variants"),
    scopes: () => togglePanel("scopes"),
    surround: look("surround"),
    off: togglePass,
    duplicate: () => withPass(duplicate),
    fit: () => actions.onZoom("fit"),
    one: () => actions.onZoom("one"),
    in: () => actions.onZoom("in"),
    out: () => actions.onZoom("out"),
    alone: () => useBench.setState(({ fullscreen: alone }) => ({ fullscreen: !alone })),
    before: () => actions.onShot(-1),
    after: () => actions.onShot(1),
    export: actions.onExport,
    room: actions.onRoom,
    strokes: () => useBench.setState(({ does }) => ({ does: does === "add" ? "erase" : "add" })),
    smaller: () => resize(1 / STEP, 0),
    larger: () => resize(STEP, 0),
    softer: () => resize(1, -HARDER),
    harder: () => resize(1, HARDER),
    keys: actions.onKeys,
  };
}

const CHORD: Readonly<Record<string, (event: KeyboardEvent) => void>> = {
  Delete: removeInHand,
  ArrowLeft: (event) => nudge(-1, 0, event),
  ArrowRight: (event) => nudge(1, 0, event),
  ArrowUp: (event) => nudge(0, -1, event),
  ArrowDown: (event) => nudge(0, 1, event),
  "Shift+ArrowLeft": (event) => nudge(-1, 0, event),
  "Shift+ArrowRight": (event) => nudge(1, 0, event),
  "Shift+ArrowUp": (event) => nudge(0, -1, event),
  "Shift+ArrowDown": (event) => nudge(0, 1, event),
  "$mod+z": (event) => {
    event.preventDefault();
    step("undo");
  },
  "$mod+Shift+z": (event) => {
    event.preventDefault();
    step("redo");
  },
  Escape: escape,
};

/** The plus key without Shift is an equals sign on many keyboards. */
const AS = { "=": "+" } as const;

export function useKeys(actions: Actions): void {
  useEffect(() => {
    const acts = singles(actions);
    const pressed = (event: KeyboardEvent) => {
      if (typing(event) || event.ctrlKey || event.metaKey || event.altKey) return;
      const id = idOf(event.key) ?? idOf(AS[event.key as "="] ?? "");
      if (id) acts[id]?.(event);
    };
    const guarded = Object.fromEntries(
      Object.entries(CHORD).map(([keys, act]) => [keys, (event: KeyboardEvent) => !typing(event) && act(event)]),
    );
    window.addEventListener("keydown", pressed);
    const forget = tinykeys(window, guarded);
    return () => {
      window.removeEventListener("keydown", pressed);
      forget();
    };
  }, [actions]);
  useHeld();
}

/** Keys that act while they are held. Losing the window lets them go. */
function useHeld(): void {
  useEffect(() => {
    const set = (event: KeyboardEvent, down: boolean) => {
      if (down && (typing(event) || event.ctrlKey || event.metaKey)) return;
      const id = idOf(event.key);
      if (id === "source") useBench.setState({ source: down });
      if (id === "exaggerate") useBench.setState({ exaggerated: down });
    };
    const down = (event: KeyboardEvent) => set(event, true);
    const up = (event: KeyboardEvent) => set(event, false);
    const away = () => useBench.setState({ source: false, exaggerated: false });
    window.addEventListener("keydown", down);
    window.addEventListener("keyup", up);
    window.addEventListener("blur", away);
    return () => {
      window.removeEventListener("keydown", down);
      window.removeEventListener("keyup", up);
      window.removeEventListener("blur", away);
    };
  }, []);
}
