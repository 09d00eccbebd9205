/** Steps name what changed and nothing else; what they leave alone is not sent. */

import * as fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { Part, Pass, Region, Sheet, Step } from "../api/client";
import { stepBetween } from "./step";

const id = fc.constantFrom("a", "b", "c", "d");
const share = fc.integer({ min: 0, max: 100 }).map((n) => n / 100);
const stroke = fc.record({
  points: fc.array(share, { minLength: 3, maxLength: 3 }),
  does: fc.constantFrom("add" as const, "erase" as const),
  size: share.map((n) => n + 0.01),
});
const part = fc.record({ id, kind: fc.constantFrom("ellipse", "brush"), opacity: share, strokes: fc.array(stroke, { maxLength: 4 }) });
const region = fc.record({ id, name: fc.constantFrom("one", "two"), parts: fc.uniqueArray(part, { maxLength: 3, selector: (each) => each.id }) });
const pass = fc.record({ id, name: fc.constantFrom("x", "y"), strength: share });
const sheet = fc
  .record({
    regions: fc.uniqueArray(region, { maxLength: 3, selector: (each) => each.id }),
    passes: fc.uniqueArray(pass, { maxLength: 3, selector: (each) => each.id }),
  })
  .map((made) => ({ version: 2, ...made }) as unknown as Sheet);

type Named = { readonly id: string };

function put<Item extends Named>(list: readonly Item[], item: Item): readonly Item[] {
  return list.some((each) => each.id === item.id) ? list.map((each) => (each.id === item.id ? item : each)) : [...list, item];
}

function ordered<Item extends Named>(list: readonly Item[], ids: readonly string[] | null | undefined): readonly Item[] {
  return ids ? ids.map((each) => list.find((item) => item.id === each) as Item) : list;
}

/** A sheet of one brushed part. */
function brushed(strokes: readonly object[]): Sheet {
  return { version: 2, passes: [], regions: [{ id: "r", name: "r", parts: [{ id: "p", kind: "brush", strokes }] }] } as unknown as Sheet;
}

/** What the server does with a step, said plainly. */
function applied(before: Sheet, step: Step): Sheet {
  let regions: readonly Region[] = before.regions;
  for (const each of step.regions ?? []) {
    const stays = each.parts_stay && regions.find((one) => one.id === each.region.id);
    regions = put(regions, stays ? { ...each.region, parts: stays.parts } : each.region);
  }
  const inRegion = (of: string, change: (parts: readonly Part[]) => readonly Part[]) => {
    regions = regions.map((each) => (each.id === of ? { ...each, parts: [...change(each.parts)] } : each));
  };
  for (const each of step.parts ?? []) inRegion(each.region, (parts) => put(parts, each.part));
  for (const each of step.strokes ?? [])
    inRegion(each.region, (parts) =>
      parts.map((one) => (one.id === each.part ? { ...one, strokes: [...(one.strokes ?? []).slice(0, each.keep), ...(each.add ?? [])] } : one)),
    );
  for (const [of, ids] of Object.entries(step.joined ?? {})) inRegion(of, (parts) => ordered(parts, ids));
  let passes: readonly Pass[] = before.passes;
  for (const each of step.passes ?? []) passes = put(passes, each);
  return { ...before, regions: [...ordered(regions, step.shelf)], passes: [...ordered(passes, step.order)] };
}

describe("a step", () => {
  it("leads from one sheet to the other, and back", () => {
    fc.assert(
      fc.property(sheet, sheet, (before, after) => {
        const [there, back] = [stepBetween(before, after), stepBetween(after, before)];
        expect(there ? applied(before, there) : before).toEqual(after);
        expect(back ? applied(after, back) : after).toEqual(before);
      }),
    );
  });

  it("is nothing between sheets that are alike", () => {
    fc.assert(
      fc.property(sheet, (one) => {
        expect(stepBetween(one, structuredClone(one))).toBeNull();
      }),
    );
  });

  it("sends one more stroke as that stroke alone", () => {
    fc.assert(
      fc.property(stroke, fc.array(stroke, { minLength: 1, maxLength: 30 }), (more, strokes) => {
        const step = stepBetween(brushed(strokes), brushed([...strokes, more]));
        expect(step).toEqual({ strokes: [{ region: "r", part: "p", keep: strokes.length, add: [more] }] });
      }),
    );
  });
});
