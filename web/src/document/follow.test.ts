import * as fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { Fix, MovedPart, Part, Region, Sheet } from "../api/client";
import { fixesOf, setFrames } from "./follow";
import { keyed, movedAfter, plain, standing } from "./time";
import { moveFix, removeFix, setTrack } from "./tracks";

const MARKED = { x: 0.5, y: 0.5, width: 0.3, height: 0.2, feather: 0.01 };
const part = (fields: Partial<Part> = {}): Part => ({
  id: "o",
  kind: "ellipse",
  join: "add",
  on: true,
  complement: false,
  opacity: 1,
  values: MARKED,
  points: [],
  path: [],
  strokes: [],
  samples: [],
  ...fields,
});
const track = (fixes: Record<string, Fix> = {}) => ({ motion: "a".repeat(64), at: 10, fixes });
const sheetOf = (one: Part, fixes: Record<string, Fix> = {}): Sheet => ({
  version: 2,
  regions: [{ id: "r", name: "r", parts: [one], band: [], removed: [], track: track(fixes) }],
  passes: [],
});
const region = (sheet: Sheet): Region => sheet.regions[0] as Region;
const only = (sheet: Sheet): Part => region(sheet).parts[0] as Part;
const movedTo = (values: Record<string, number>, fix: Fix | null = null, points: number[][] = []): MovedPart[] => [
  { region: "r", part: "o", values, points, keyed: [], own: { values: MARKED, points: [] }, fix },
];
const CARRIED = { x: 0.8, y: 0.4, width: 0.36, height: 0.24, turn: 12, feather: 0.012 };

describe("a region that follows", () => {
  it("shows where it is at a frame, and is kept as it was marked", () => {
    const shown = standing(sheetOf(part()), movedTo(CARRIED));
    expect(only(shown).values).toMatchObject({ x: 0.8, width: 0.36, turn: 12, feather: 0.01 });
    expect(plain(shown)).toEqual(sheetOf(part()));
    // at another frame, and where it was marked
    const other = standing(shown, movedTo({ ...CARRIED, x: 0.2 }));
    expect(plain(other)).toEqual(sheetOf(part()));
    const back = standing(shown, [{ region: "r", part: "o", values: MARKED, points: [], keyed: [], own: null, fix: null }]);
    expect(back).toEqual(sheetOf(part()));
  });

  it("moved, sized or turned elsewhere it is corrected there, upon what it was corrected by", () => {
    fc.assert(
      fc.property(fc.double({ min: -0.3, max: 0.3, noNaN: true }), fc.double({ min: 0.5, max: 2, noNaN: true }), (dx, scale) => {
        const moved = movedTo(CARRIED, { dx: 0.01, dy: 0, scale: 1.1, turn: 1 });
        const shown = standing(sheetOf(part()), moved);
        const values = { ...only(shown).values, x: 0.8 + dx, width: 0.36 * scale, height: 0.24 * scale, turn: 17 };
        const made = keyed({ ...shown, regions: [{ ...region(shown), parts: [{ ...only(shown), values }] }] }, moved, 30);
        const fix = region(made).track?.fixes?.["30"];
        expect(fix?.dx).toBeCloseTo(0.01 + dx);
        expect(fix?.scale).toBeCloseTo(1.1 * scale);
        expect(fix?.turn).toBeCloseTo(6);
        expect(only(plain(made)).values).toEqual(MARKED);
        // held on, the next change begins from there
        expect(movedAfter(made, moved, 30)[0]?.fix).toEqual(fix);
      }),
    );
  });

  it("where it was marked, its place itself is changed; what is not carried always is", () => {
    const there = [{ region: "r", part: "o", values: MARKED, points: [], keyed: [], own: null, fix: null }];
    const moved = keyed(sheetOf(part({ values: { ...MARKED, x: 0.7 } })), there, 10);
    expect(region(moved).track).toEqual(track());
    expect(only(plain(moved)).values).toMatchObject({ x: 0.7 });
    const shown = standing(sheetOf(part()), movedTo(CARRIED));
    const softer = { ...shown, regions: [{ ...region(shown), parts: [{ ...only(shown), values: { ...only(shown).values, feather: 0.05 } }] }] };
    const made = keyed(softer, movedTo(CARRIED), 30);
    expect(region(made).track).toEqual(track());
    expect(only(plain(made)).values).toEqual({ ...MARKED, feather: 0.05 });
  });

  it("a box that lies in perspective is corrected by its place, whatever its outline is meanwhile", () => {
    const outline = [[0.1, 0.1], [0.5, 0.15], [0.5, 0.4], [0.1, 0.42]];
    const moved = movedTo({ ...MARKED, x: 0.9 }, null, outline);
    const shown = standing(sheetOf(part()), moved);
    expect(only(shown).points).toEqual(outline);
    const dragged = { ...shown, regions: [{ ...region(shown), parts: [{ ...only(shown), values: { ...only(shown).values, x: 1.05 } }] }] };
    const made = keyed(dragged, moved, 30);
    expect(region(made).track?.fixes?.["30"]?.dx).toBeCloseTo(0.15, 9);
    expect(only(plain(made)).points).toEqual([]);
  });

  it("an outline is corrected by the similarity that takes its points nearest", () => {
    const corners = [
      [0.2, 0.2],
      [0.6, 0.25],
      [0.5, 0.7],
    ];
    const outline = part({ kind: "polygon", points: corners, values: {} });
    const moved: MovedPart[] = [{ region: "r", part: "o", values: {}, points: corners, keyed: [], own: { values: {}, points: [] }, fix: null }];
    const shown = standing(sheetOf(outline), moved);
    const [c, s] = [1.2 * Math.cos(0.3), 1.2 * Math.sin(0.3)];
    const [mx, my] = [1.3 / 3, 1.15 / 3];
    const points = corners.map(([x = 0, y = 0]) => [mx + 0.1 + c * (x - mx) - s * (y - my), my - 0.05 + s * (x - mx) + c * (y - my)]);
    const made = keyed({ ...shown, regions: [{ ...region(shown), parts: [{ ...only(shown), points }] }] }, moved, 30);
    const fix = region(made).track?.fixes?.["30"];
    expect(fix?.dx).toBeCloseTo(0.1);
    expect(fix?.dy).toBeCloseTo(-0.05);
    expect(fix?.scale).toBeCloseTo(1.2);
    expect(fix?.turn).toBeCloseTo((0.3 * 180) / Math.PI);
  });

  it("its corrections are moved and removed, and it stands still as it was marked", () => {
    const fixes = { "30": { dx: 0.1, dy: 0, scale: 1, turn: 0 }, "5": { dx: 0.2, dy: 0, scale: 1, turn: 0 } };
    const two = sheetOf(part(), fixes);
    expect(setFrames(region(two))).toEqual([5, 10, 30]);
    expect(fixesOf(region(moveFix(two, "r", 30, 44)))).toEqual([5, 44]);
    expect(fixesOf(region(removeFix(two, "r", 5)))).toEqual([30]);
    const still = setTrack(standing(two, movedTo(CARRIED)), "r", null);
    expect(only(still)).toEqual(part());
    expect(region(still).track).toBeNull();
    // followed anew nothing is corrected by that
    const shown = standing(two, movedTo(CARRIED));
    expect(region(keyed(setTrack(shown, "r", track()), movedTo(CARRIED), 30)).track).toEqual(track());
  });
});
