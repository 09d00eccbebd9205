/** Time in a sheet: parts that move through keyframes, as pure functions; what they are at a frame the server tells. */

import type { Ease, MovedPart, Part, Region, Sheet } from "../api/client";
import { carriedPart, fixAfter, fixed, follows, markedPart } from "./follow";

export type Key = { readonly ease?: Ease | undefined };

export function moves(part: Part): boolean {
  return Object.keys(part.keys ?? {}).length > 0 || Object.keys(part.point_keys ?? {}).length > 0;
}

export function anyMoves(sheet: Sheet): boolean {
  return sheet.regions.some((region) => follows(region) || region.parts.some(moves));
}

/** The frames at which a part of a region has a key, in order. */
export function keyframesOf(region: Region): readonly number[] {
  const found = new Set<number>();
  for (const part of region.parts) {
    for (const keys of [...Object.values(part.keys ?? {}), part.point_keys ?? {}]) {
      for (const frame of Object.keys(keys)) found.add(Number(frame));
    }
  }
  return [...found].toSorted((a, b) => a - b);
}

export function ofParts(sheet: Sheet, to: (part: Part, region: Region) => Part): Sheet {
  let same = true;
  const regions = sheet.regions.map((region) => {
    const parts = region.parts.map((part) => to(part, region));
    if (parts.every((part, k) => part === region.parts[k])) return region;
    same = false;
    return { ...region, parts };
  });
  return same ? sheet : { ...sheet, regions };
}

/** The sheet with one form for each meaning: where keys decide, the value beside them is that of the first. */
export function plain(sheet: Sheet): Sheet {
  return ofParts(sheet, (shown) => {
    const part = markedPart(shown);
    if (!moves(part)) return part;
    const values = { ...part.values };
    for (const [id, keys] of Object.entries(part.keys ?? {})) {
      const first = keys[firstOf(keys)];
      if (first) values[id] = first.value;
    }
    const points = part.point_keys?.[firstOf(part.point_keys)]?.points ?? part.points ?? [];
    return { ...part, values, points };
  });
}

function firstOf(keys: Readonly<Record<string, unknown>>): string {
  return String(Math.min(...Object.keys(keys).map(Number)));
}

const ofMoved = (moved: readonly MovedPart[], region: Region, part: Part) => moved.find((each) => each.region === region.id && each.part === part.id);

/** The sheet whose moving parts stand where they are at a frame, so that handles and faders show it. */
export function standing(sheet: Sheet, moved: readonly MovedPart[]): Sheet {
  return ofParts(sheet, (part, region) => {
    const at = ofMoved(moved, region, part);
    if (at && follows(region)) return carriedPart(part, at);
    if (!at || !moves(part)) return part;
    const placed = Object.fromEntries(Object.keys(part.keys ?? {}).map((id) => [id, at.values[id] ?? part.values?.[id] ?? 0]));
    return { ...part, values: { ...part.values, ...placed }, ...(hasPointKeys(part) && { points: at.points }) };
  });
}

const hasPointKeys = (part: Part) => Object.keys(part.point_keys ?? {}).length > 0;

/** The sheet in which what was corrected at a frame has become a keyframe there; `moved` is how it stood before. */
export function keyed(sheet: Sheet, moved: readonly MovedPart[], frame: number): Sheet {
  const followed = sheet.regions.some(follows) ? { ...sheet, regions: sheet.regions.map((region) => fixed(region, moved, frame)) } : sheet;
  return ofParts(followed, (part, region) => {
    const before = ofMoved(moved, region, part);
    if (!before || !moves(part) || follows(region)) return part;
    const ids = Object.keys(part.keys ?? {});
    const corrected =
      ids.some((id) => (part.values?.[id] ?? before.values[id]) !== before.values[id]) ||
      (hasPointKeys(part) && JSON.stringify(part.points) !== JSON.stringify(before.points));
    return corrected ? withKey(part, frame, easeAt(part, frame)) : part;
  });
}

/** The way from a frame on, as its key or the one before it says. */
function easeAt(part: Part, frame: number): Ease {
  const every = [...Object.values(part.keys ?? {}), part.point_keys ?? {}] as Readonly<Record<string, Key>>[];
  for (const keys of every) {
    const before = Object.keys(keys)
      .map(Number)
      .filter((each) => each <= frame)
      .toSorted((a, b) => b - a)[0];
    const key = before === undefined ? undefined : keys[String(before)];
    if (key) return key.ease ?? "smooth";
  }
  return "smooth";
}

function withKey(part: Part, frame: number, ease: Ease): Part {
  const keys = Object.fromEntries(
    Object.entries(part.keys ?? {}).map(([id, each]) => [id, { ...each, [frame]: { value: Number(part.values?.[id] ?? 0), ease } }]),
  );
  const points = hasPointKeys(part) ? { ...part.point_keys, [frame]: { points: part.points ?? [], ease } } : part.point_keys;
  return { ...part, keys, ...(points && { point_keys: points }) };
}

/** Whether it is known of every part that moves how it stands. */
export function allKnown(sheet: Sheet, moved: readonly MovedPart[]): boolean {
  return sheet.regions.every((region) => region.parts.every((part) => !(moves(part) || follows(region)) || ofMoved(moved, region, part)));
}

/** How moving parts stand once a change is made, for the next one. */
export function movedAfter(sheet: Sheet, moved: readonly MovedPart[], frame: number): readonly MovedPart[] {
  return moved.map((each) => {
    const region = sheet.regions.find(({ id }) => id === each.region);
    const part = region?.parts.find(({ id }) => id === each.part);
    if (!region || !part) return each;
    return { ...each, values: { ...each.values, ...part.values }, points: part.points ?? [], fix: fixAfter(region, each, frame) };
  });
}

/** A place in time: seconds and frames, minutes before them where there are any. */
export function timeOf(frame: number, base: number): string {
  const seconds = Math.floor(frame / base);
  const rest = `${String(seconds % 60)} s ${String(frame % base).padStart(2, "0")} f`;
  return seconds < 60 ? rest : `${Math.floor(seconds / 60)} min ${rest}`;
}

/** How long a clip is and how fast it runs, as it stands after its size. */
export function clipSaid({ frames, rate }: { readonly frames: number; readonly rate: string }): string {
  const [over = 1, under = 1] = rate.split("/").map(Number);
  return `, ${frames} frames, ${Number((over / under).toFixed(3))} a second`;
}
