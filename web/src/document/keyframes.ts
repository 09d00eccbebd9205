/** What is done to keyframes, as pure functions: begun, moved, eased, removed; and a frame as it is typed. */

import type { Ease, Region, Sheet } from "../api/client";
import { type Key, moves, ofParts } from "./time";

/** The parameters that a part takes along when it moves, by how its beads stand. */
const PLACED: Readonly<Record<string, readonly string[]>> = {
  box: ["x", "y", "width", "height", "turn"],
  axis: ["x", "y", "angle"],
};

type Kinds = (kind: string) => { readonly beads: string; readonly parameters: readonly { readonly id: string; readonly neutral?: unknown }[] } | undefined;

/** A region's drawn parts begin to move: each has a keyframe where it stands now. */
export function startMoving(sheet: Sheet, id: string, frame: number, kinds: Kinds): Sheet {
  return ofParts(sheet, (part, region) => {
    const kind = kinds(part.kind);
    if (region.id !== id || !kind || kind.beads === "" || moves(part)) return part;
    if (kind.beads === "points") return { ...part, point_keys: { [frame]: { points: part.points ?? [], ease: "smooth" } } };
    const own = (PLACED[kind.beads] ?? []).flatMap((name) => kind.parameters.filter((parameter) => parameter.id === name));
    const keys = Object.fromEntries(
      own.map((parameter) => [parameter.id, { [frame]: { value: Number(part.values?.[parameter.id] ?? parameter.neutral ?? 0), ease: "smooth" as const } }]),
    );
    return { ...part, keys };
  });
}

/** A region stands still again, as it stands now. */
export function stopMoving(sheet: Sheet, id: string): Sheet {
  return ofParts(sheet, (part, region) => (region.id === id && moves(part) ? { ...part, keys: {}, point_keys: {} } : part));
}

function ofKeys(sheet: Sheet, id: string, to: <Each extends Key>(keys: Readonly<Record<string, Each>>) => Record<string, Each>): Sheet {
  return ofParts(sheet, (part, region) => {
    if (region.id !== id || !moves(part)) return part;
    const keys = Object.fromEntries(Object.entries(part.keys ?? {}).map(([name, each]) => [name, to(each)]));
    return { ...part, keys, point_keys: to(part.point_keys ?? {}) };
  });
}

/** A keyframe goes; the last one stays. */
export function removeKey(sheet: Sheet, id: string, frame: number): Sheet {
  return ofKeys(sheet, id, (keys) => {
    if (Object.keys(keys).length < 2) return { ...keys };
    return Object.fromEntries(Object.entries(keys).filter(([at]) => at !== String(frame)));
  });
}

/** A keyframe goes to another frame; one that stood there gives way. */
export function moveKey(sheet: Sheet, id: string, from: number, to: number): Sheet {
  return ofKeys(sheet, id, (keys) => {
    const key = keys[String(from)];
    if (key === undefined || from === to) return { ...keys };
    return { ...Object.fromEntries(Object.entries(keys).filter(([at]) => at !== String(from))), [to]: key };
  });
}

/** How the way from a keyframe to the next goes. */
export function setEase(sheet: Sheet, id: string, frame: number, ease: Ease): Sheet {
  return ofKeys(sheet, id, (keys) => {
    const key = keys[String(frame)];
    return key ? { ...keys, [frame]: { ...key, ease } } : { ...keys };
  });
}

export function easeOf(region: Region, frame: number): Ease | null {
  for (const part of region.parts) {
    for (const keys of [...Object.values(part.keys ?? {}), part.point_keys ?? {}]) {
      const key = keys[String(frame)];
      if (key) return key.ease ?? "smooth";
    }
  }
  return null;
}

/** The frame that somebody typed: a number, seconds and frames ("2 s 6 f", "2:06"), or seconds ("2.5 s"). */
export function frameTyped(text: string, base: number): number | null {
  const said = text.trim().toLowerCase();
  if (/^\d+$/.test(said)) return Number(said);
  const parts = /^(?:(\d+)\s*(?:min|m|:)\s*)?(\d+)\s*(?:s|:)\s*(\d+)\s*f?$/.exec(said);
  if (parts) return (Number(parts[1] ?? 0) * 60 + Number(parts[2])) * base + Number(parts[3]);
  const seconds = /^(\d+(?:[.,]\d+)?)\s*s$/.exec(said);
  return seconds?.[1] ? Math.round(Number(seconds[1].replace(",", ".")) * base) : null;
}
