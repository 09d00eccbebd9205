/** What somebody declares of frames of a region that must be covered, as pure functions on a sheet. */

import type { Declared, Region, Sheet } from "../api/client";

export type Frames = { readonly first: number; readonly last: number };

/** Frames are declared; what was declared of them before gives way, and stays beside them. */
export function declare(sheet: Sheet, id: string, { first, last }: Frames, said: Omit<Declared, "last">): Sheet {
  return ofCovers(sheet, id, (covers) => ({ ...without(covers, { first, last }), [first]: { ...said, last } }));
}

/** Nothing is declared of frames any more. */
export function takeBack(sheet: Sheet, id: string, frames: Frames): Sheet {
  return ofCovers(sheet, id, (covers) => without(covers, frames));
}

type Covers = NonNullable<Region["covers"]>;

function without(covers: Covers, { first, last }: Frames): Covers {
  const pieces = Object.entries(covers).flatMap(([from, each]) => {
    const before: [number, Declared] = [Number(from), { ...each, last: Math.min(each.last, first - 1) }];
    const after: [number, Declared] = [Math.max(Number(from), last + 1), each];
    return [before, after].filter(([at, kept]) => at <= kept.last);
  });
  return Object.fromEntries(pieces);
}

function ofCovers(sheet: Sheet, id: string, to: (covers: Covers) => Covers): Sheet {
  return { ...sheet, regions: sheet.regions.map((region) => (region.id === id ? { ...region, covers: to(region.covers ?? {}) } : region)) };
}
