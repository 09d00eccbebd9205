import * as fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { MovedPart, Part, Sheet } from "../api/client";
import { easeOf, frameTyped, moveKey, removeKey, setEase, startMoving, stopMoving } from "./keyframes";
import { keyed, keyframesOf, moves, plain, standing, timeOf } from "./time";

const part = (fields: Partial<Part> = {}): Part => ({
  id: "o",
  kind: "ellipse",
  join: "add",
  on: true,
  complement: false,
  opacity: 1,
  values: { x: 0.5, y: 0.5, width: 0.3, height: 0.3 },
  points: [],
  path: [],
  strokes: [],
  samples: [],
  ...fields,
});
const sheetOf = (...parts: Part[]): Sheet => ({ version: 2, regions: [{ id: "r", name: "r", parts, band: [], removed: [] }], passes: [] });
const only = (sheet: Sheet): Part => sheet.regions[0]?.parts[0] ?? part();
const KIND = () => ({ beads: "box", parameters: ["x", "y", "width", "height", "turn"].map((id) => ({ id, neutral: 0 })) });
const movedAt = (values: Record<string, number>): MovedPart[] => [{ region: "r", part: "o", values, points: [], keyed: [] }];
const moving = () => startMoving(sheetOf(part()), "r", 10, KIND);

describe("keyframes", () => {
  it("begin where the region stands, one for each number of its place", () => {
    const made = only(moving());
    expect(Object.keys(made.keys ?? {})).toEqual(["x", "y", "width", "height", "turn"]);
    expect(keyframesOf(moving().regions[0] ?? never())).toEqual([10]);
  });

  it("n corrections make n of them", () => {
    fc.assert(
      fc.property(fc.uniqueArray(fc.integer({ min: 0, max: 500 }), { minLength: 1, maxLength: 12 }), (frames) => {
        let sheet = moving();
        for (const frame of frames) {
          const before = { x: 0.5, y: 0.5, width: 0.3, height: 0.3, turn: 0 };
          const corrected = sheetOf({ ...only(sheet), values: { ...before, x: 0.6 + frame / 1000 } });
          sheet = keyed(corrected, movedAt(before), frame);
        }
        expect(keyframesOf(sheet.regions[0] ?? never())).toEqual([...new Set([10, ...frames])].toSorted((a, b) => a - b));
      }),
    );
  });

  it("are not made by what moves nothing", () => {
    const sheet = moving();
    const turned = sheetOf({ ...only(sheet), opacity: 0.5 });
    expect(keyed(turned, movedAt({ x: 0.5, y: 0.5, width: 0.3, height: 0.3, turn: 0 }), 40)).toBe(turned);
  });

  it("can be moved, eased, removed, but for the last", () => {
    const before = { x: 0.5, y: 0.5, width: 0.3, height: 0.3, turn: 0 };
    const two = keyed(sheetOf({ ...only(moving()), values: { ...before, x: 0.9 } }), movedAt(before), 30);
    expect(keyframesOf(regionOf(moveKey(two, "r", 30, 44)))).toEqual([10, 44]);
    expect(easeOf(regionOf(setEase(two, "r", 10, "hold")), 10)).toBe("hold");
    expect(keyframesOf(regionOf(removeKey(two, "r", 10)))).toEqual([30]);
    expect(keyframesOf(regionOf(removeKey(removeKey(two, "r", 10), "r", 30)))).toEqual([30]);
    expect(moves(only(stopMoving(two, "r")))).toBe(false);
  });
});

describe("a frame", () => {
  it("shows in the values, and the sheet that is sent is the same at every one", () => {
    const sheet = moving();
    const there = standing(sheet, movedAt({ x: 1.2, y: 0.4, width: 0.3, height: 0.3, turn: 5 }));
    expect(only(there).values).toMatchObject({ x: 1.2, y: 0.4, turn: 5 });
    expect(plain(there)).toEqual(plain(sheet));
  });

  it("leaves what stands still as the very object", () => {
    const still = sheetOf(part());
    expect(plain(still)).toBe(still);
    expect(standing(still, movedAt({ x: 9 }))).toBe(still);
  });
});

describe("time", () => {
  it("is told as seconds and frames, and read again", () => {
    expect(timeOf(54, 24)).toBe("2 s 06 f");
    expect(timeOf(1500, 25)).toBe("1 min 0 s 00 f");
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 400_000 }), fc.constantFrom(24, 25, 30, 60), (frame, base) => {
        expect(frameTyped(timeOf(frame, base), base)).toBe(frame);
      }),
    );
    expect([frameTyped("77", 24), frameTyped("2:06", 24), frameTyped("2.5 s", 24), frameTyped("soon", 24)]).toEqual([77, 54, 60, null]);
  });
});

function regionOf(sheet: Sheet) {
  return sheet.regions[0] ?? never();
}

function never(): never {
  throw new Error("there is a region");
}
