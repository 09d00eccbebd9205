/** What is declared of frames, against a plain list of them. */

import * as fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { Sheet } from "../api/client";
import { declare, takeBack } from "./declare";

const FRAMES = 30;
const empty: Sheet = { version: 2, passes: [], regions: [{ id: "r", name: "r", parts: [], band: [], removed: [], covers: {} }] };
const frames = fc.tuple(fc.nat(FRAMES - 1), fc.nat(FRAMES - 1)).map(([a, b]) => ({ first: Math.min(a, b), last: Math.max(a, b) }));
const act = fc.record({ frames, says: fc.constantFrom("absent", "seen", null) });

function listed(sheet: Sheet): (string | null)[] {
  const made: (string | null)[] = Array.from({ length: FRAMES }, () => null);
  for (const [first, { last, says }] of Object.entries(sheet.regions[0]?.covers ?? {})) {
    for (let frame = Number(first); frame <= last; frame++) {
      expect(made[frame]).toBe(null);
      made[frame] = says;
    }
  }
  return made;
}

describe("what is declared", () => {
  it("is what was said last of each frame, and never two things at once", () => {
    fc.assert(
      fc.property(fc.array(act, { maxLength: 12 }), (acts) => {
        let sheet = empty;
        const truth: (string | null)[] = Array.from({ length: FRAMES }, () => null);
        for (const each of acts) {
          sheet = each.says ? declare(sheet, "r", each.frames, { says: each.says, who: "", when: "" }) : takeBack(sheet, "r", each.frames);
          truth.fill(each.says, each.frames.first, each.frames.last + 1);
        }
        expect(listed(sheet)).toEqual(truth);
      }),
    );
  });
});
