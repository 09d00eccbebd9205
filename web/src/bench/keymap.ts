/** Which single key does what: each can be switched off or given another, for this browser (WCAG 2.1.4). */

import { create } from "zustand";

/** A single key: its name in the code, the key as it comes, and what it does. `held` acts while it is held. */
export type Single = { readonly id: string; readonly key: string; readonly says: string; readonly held?: true };

export const SINGLES: readonly Single[] = [
  { id: "start", key: "n", says: "start a pass" },
  { id: "region", key: "r", says: "draw a new region" },
  { id: "picture", key: "v", says: "picture view" },
  { id: "lattice", key: "l", says: "lattice view" },
  { id: "matte", key: "m", says: "matte view" },
  { id: "cutout", key: "c", says: "cutout view" },
  { id: "outline", key: "i", says: "outline view" },
  { id: "difference", key: "k", says: "difference view" },
  { id: "beyond", key: "!", says: "beyond white" },
  { id: "wipe", key: "w", says: "wipe between source and result" },
  { id: "two-up", key: "u", says: "two-up: the source, or another shot, beside the result" },
  { id: "blink", key: "b", says: "blink to the source and back" },
  { id: "ribbon", key: "g", says: "edge ribbon of the region" },
  { id: "variants", key: "y", says: "variants of the value in hand" },
  { id: "scopes", key: "q", says: "scopes" },
  { id: "surround", key: "j", says: "surround alone" },
  { id: "source", key: "s", says: "the source", held: true },
  { id: "exaggerate", key: "x", says: "the pass in hand, exaggerated", held: true },
  { id: "off", key: "o", says: "pass in hand on or off" },
  { id: "duplicate", key: "d", says: "duplicate the pass" },
  { id: "fit", key: "f", says: "fit the picture" },
  { id: "one", key: "1", says: "one to one" },
  { id: "in", key: "+", says: "zoom in" },
  { id: "out", key: "-", says: "zoom out" },
  { id: "alone", key: "h", says: "picture alone, without interface" },
  { id: "before", key: "[", says: "shot before" },
  { id: "after", key: "]", says: "shot after" },
  { id: "export", key: "e", says: "export" },
  { id: "room", key: "t", says: "dim room, day room" },
  { id: "strokes", key: "p", says: "strokes put in, take out" },
  { id: "smaller", key: ",", says: "brush smaller" },
  { id: "larger", key: ".", says: "brush larger" },
  { id: "softer", key: "<", says: "brush softer" },
  { id: "harder", key: ">", says: "brush harder" },
  { id: "size", key: "a", says: "and drag: the brush's size across, its hardness up", held: true },
  { id: "begins", key: "(", says: "the range begins at this frame" },
  { id: "ends", key: ")", says: "the range ends at this frame" },
  { id: "keys", key: "?", says: "this sheet" },
];

const KEPT = "calado-keys";
/** No key at all. */
const OFF = "";

type Keymap = { readonly own: Readonly<Record<string, string>> };

function kept(): Readonly<Record<string, string>> {
  try {
    const read: unknown = JSON.parse(localStorage.getItem(KEPT) ?? "{}");
    if (typeof read !== "object" || read === null) return {};
    return Object.fromEntries(Object.entries(read).filter((each): each is [string, string] => typeof each[1] === "string"));
  } catch {
    return {};
  }
}

export const useKeymap = create<Keymap>()(() => ({ own: kept() }));

function keep(own: Readonly<Record<string, string>>): void {
  useKeymap.setState({ own });
  localStorage.setItem(KEPT, JSON.stringify(own));
}

const usual = (id: string) => SINGLES.find((each) => each.id === id)?.key ?? OFF;

/** The key that does something now; none where it is switched off. */
export function keyOf(id: string, own = useKeymap.getState().own): string {
  return own[id] ?? usual(id);
}

/** A key as people read it. */
export function shown(key: string): string {
  return key === "-" ? "−" : key.length === 1 ? key.toUpperCase() : key;
}

/** The key of something as people read it, for menus and tips. */
export function useKeyOf(id: string): string {
  return useKeymap((state) => shown(keyOf(id, state.own)));
}

/** What a pressed key does, if it does anything. */
export function idOf(key: string): string | undefined {
  if (key === OFF) return undefined;
  const { own } = useKeymap.getState();
  const pressed = key.length === 1 ? key.toLowerCase() : key;
  return SINGLES.find((each) => keyOf(each.id, own) === pressed)?.id;
}

/** Gives something another key; a sentence where that cannot be. */
export function giveKey(id: string, key: string): string {
  const wanted = key.toLowerCase();
  if (key.length !== 1 || key === " ") return "Only a single letter, number or sign can be one.";
  const taken = SINGLES.find((each) => each.id !== id && keyOf(each.id) === wanted);
  if (taken) return `${shown(wanted)} is taken: ${taken.says}.`;
  keep({ ...useKeymap.getState().own, [id]: wanted });
  return "";
}

/** Switches a key off, or on again with its usual letter where that is free. */
export function switchKey(id: string, on: boolean): string {
  if (on) return giveKey(id, usual(id));
  keep({ ...useKeymap.getState().own, [id]: OFF });
  return "";
}

/** All keys as they come. */
export function usualKeys(): void {
  keep({});
}
