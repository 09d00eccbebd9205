/** A change of a sheet as data: what is put whole, known by its id, and in which order all stands afterwards. */

import type { Part, Region, Sheet, Step } from "../api/client";

/** Whether two values are alike; what they share is not looked into. */
function alike(one: unknown, other: unknown): boolean {
  if (one === other) return true;
  if (typeof one !== "object" || typeof other !== "object" || one === null || other === null) return false;
  if (Array.isArray(one) || Array.isArray(other)) {
    return Array.isArray(one) && Array.isArray(other) && one.length === other.length && one.every((each, k) => alike(each, other[k]));
  }
  const [a, b] = [one as Readonly<Record<string, unknown>>, other as Readonly<Record<string, unknown>>];
  const keys = Object.keys(a);
  return keys.length === Object.keys(b).length && keys.every((key) => key in b && alike(a[key], b[key]));
}

type Named = { readonly id: string };
type Made = { regions: object[]; parts: object[]; strokes: object[]; joined: Record<string, string[]> };

const byId = <Item extends Named>(items: readonly Item[]) => new Map(items.map((item) => [item.id, item]));
const idsOf = (items: readonly Named[]) => items.map(({ id }) => id);

/** The ids as they stand afterwards; undefined where they do so by themselves: those that were, then those that came. */
function orderOf(before: readonly Named[], after: readonly Named[]): string[] | undefined {
  const ids = idsOf(after);
  return alike([...new Set([...idsOf(before), ...ids])], ids) ? undefined : ids;
}

/** The step from one sheet to another; null where they are alike. */
export function stepBetween(before: Sheet, after: Sheet): Step | null {
  const made: Made = { regions: [], parts: [], strokes: [], joined: {} };
  const old = byId(before.regions);
  for (const region of after.regions) ofRegion(old.get(region.id), region, made);
  const known = byId(before.passes);
  const passes = after.passes.filter((pass) => !alike(known.get(pass.id), pass));
  const shelf = orderOf(before.regions, after.regions);
  const order = orderOf(before.passes, after.passes);
  const lists = Object.entries({ ...made, joined: undefined, passes }).filter(([, list]) => list && list.length > 0);
  const step = {
    ...Object.fromEntries(lists),
    ...(Object.keys(made.joined).length > 0 && { joined: made.joined }),
    ...(shelf && { shelf }),
    ...(order && { order }),
  };
  return Object.keys(step).length > 0 ? (step as Step) : null;
}

function ofRegion(before: Region | undefined, after: Region, made: Made): void {
  if (before === after) return;
  if (!before) {
    made.regions.push({ region: after });
    return;
  }
  const bare = { ...after, parts: [] };
  if (!alike({ ...before, parts: [] }, bare)) made.regions.push({ region: bare, parts_stay: true });
  const old = byId(before.parts);
  for (const part of after.parts) ofPart(after.id, old.get(part.id), part, made);
  const joined = orderOf(before.parts, after.parts);
  if (joined) made.joined[after.id] = joined;
}

function ofPart(region: string, before: Part | undefined, after: Part, made: Made): void {
  if (before === after || (before && alike(before, after))) return;
  const was = before?.strokes ?? [];
  const now = after.strokes ?? [];
  const differs = now.findIndex((stroke, k) => !alike(stroke, was[k]));
  const keep = differs < 0 ? now.length : differs;
  // where but the strokes are as they were, those that stay are not sent again
  if (before && keep > 0 && alike({ ...before, strokes: [] }, { ...after, strokes: [] })) {
    made.strokes.push({ region, part: after.id, keep, add: now.slice(keep) });
  } else made.parts.push({ region, part: after });
}
