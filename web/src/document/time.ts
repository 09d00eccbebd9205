/** Time in a sheet: parts that move through keyframes, as pure functions; what they are at a frame the server tells. */

import type { Ease, MovedPart, Part, Region, Sheet } from "../api/client";

/** The parameters that a part takes along when it moves, by how its beads stand. */
const PLACED: Readonly<Record<string, readonly string[]>> = {
  box: ["x", "y", "width", "height", "turn"],
  axis: ["x", "y", "angle"],
};

type Key = { readonly ease?: Ease | undefined };

export function moves(part: Part): boolean {
  return Object.keys(part.keys ?? {}).length > 0 || Object.keys(part.point_keys ?? {}).length > 0;
}

export function anyMoves(sheet: Sheet): boolean {
  return sheet.regions.some((region) => region.parts.some(moves));
}

/** The frames at which a part of a region has a key, in order. */
export function keyframesOf(region: Region): readonly number[] {
  const found = new Set<number>();
  for (const part of region.parts) {
    for (const keys of [...Object.values(part.keys ?? {}), part.point_keys ?? {}]) {
      for (const frame of Object.keys(keys)) found.add(Number(frame));
    }
  }
  return [...found].sort((a, b) => a - b);
}

function ofParts(sheet: Sheet, to: (part: Part, region: Region) => Part): Sheet {
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
  return ofParts(sheet, (part) => {
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
    if (!at || !moves(part)) return part;
    const keyed = Object.fromEntries(Object.keys(part.keys ?? {}).map((id) => [id, at.values[id] ?? part.values?.[id] ?? 0]));
    return { ...part, values: { ...part.values, ...keyed }, ...(hasPointKeys(part) && { points: at.points }) };
  });
}

const hasPointKeys = (part: Part) => Object.keys(part.point_keys ?? {}).length > 0;

/** The sheet in which what was corrected at a frame has become a keyframe there; `moved` is how it stood before. */
export function keyed(sheet: Sheet, moved: readonly MovedPart[], frame: number): Sheet {
  return ofParts(sheet, (part, region) => {
    const before = ofMoved(moved, region, part);
    if (!before || !moves(part)) return part;
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
      .sort((a, b) => b - a)[0];
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
  return sheet.regions.every((region) => region.parts.every((part) => !moves(part) || ofMoved(moved, region, part)));
}

/** How moving parts stand once a change is made, for the next one. */
export function movedAfter(sheet: Sheet, moved: readonly MovedPart[]): readonly MovedPart[] {
  return moved.map((each) => {
    const part = sheet.regions.find(({ id }) => id === each.region)?.parts.find(({ id }) => id === each.part);
    return part ? { ...each, values: { ...each.values, ...part.values }, points: part.points ?? [] } : each;
  });
}

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

/** The frame that somebody typed: a number, seconds and frames ("2 s 6 f", "2:06"), or seconds ("2.5 s"). */
export function frameTyped(text: string, base: number): number | null {
  const said = text.trim().toLowerCase();
  if (/^\d+$/.test(said)) return Number(said);
  const parts = /^(?:(\d+)\s*(?:min|m|:)\s*)?(\d+)\s*(?:s|:)\s*(\d+)\s*f?$/.exec(said);
  if (parts) return (Number(parts[1] ?? 0) * 60 + Number(parts[2])) * base + Number(parts[3]);
  const seconds = /^(\d+(?:[.,]\d+)?)\s*s$/.exec(said);
  return seconds?.[1] ? Math.round(Number(seconds[1].replace(",", ".")) * base) : null;
}
