/** What a number field says can be typed again, and a fader's places and values lead to each other. */

import * as fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { Parameter } from "../api/client";
import { parse, placeOf, show, valueAt } from "./numbers";

const FRAME = { width: 1600, height: 1067 };
const base = { name: "Amount", kind: "number", curve: "linear", turned: false, apart: false, needs: [], options: [], usual: [] } as const;
const number = (digits: string) => Number(digits.replace("\u2212", "-"));
const parameters = [
  { ...base, id: "ev", unit: "EV", neutral: 0, low: -4, high: 4, floor: -10, ceiling: 10, step: 0.05, signed: true },
  { ...base, id: "share", unit: "share", neutral: 1, low: 0, high: 2, floor: 0, ceiling: 4, step: 0.01, signed: false },
  { ...base, id: "length", unit: "length", neutral: 0, low: 0, high: 0.5, floor: 0, ceiling: 4, step: 0.005, signed: false, curve: "square" },
  { ...base, id: "angle", unit: "angle", neutral: 0, low: -90, high: 90, floor: -360, ceiling: 360, step: 1, signed: true },
  { ...base, id: "factor", unit: "factor", neutral: 1, low: 0, high: 4, floor: 0, ceiling: 16, step: 0.01, signed: false },
] as unknown as readonly Parameter[];

const within = (low: number, high: number) => fc.double({ min: low, max: high, noNaN: true });

describe.each(parameters.map((each) => [each.unit, each] as const))("a number in %s", (_, parameter) => {
  it("can be typed as it is said", () => {
    fc.assert(
      fc.property(within(parameter.floor, parameter.ceiling), (value) => {
        const { digits, unit } = show(value, parameter, FRAME);
        const read = parse(`${digits} ${unit}`, parameter, FRAME);
        // what is said is rounded; what was said once is said again
        expect(typeof read).toBe("number");
        expect(number(show(read as number, parameter, FRAME).digits)).toBe(number(digits));
      }),
    );
  });

  it("has one place on its fader", () => {
    fc.assert(
      fc.property(within(parameter.low, parameter.high), (value) => {
        const back = valueAt(placeOf(value, parameter, FRAME), parameter, FRAME, true);
        expect(Math.abs(back - value)).toBeLessThanOrEqual(parameter.step);
      }),
    );
  });

  it.each(["", "abc", "1e999", "NaN", "--3", "1,2,3"])("refuses %o in words", (text) => {
    expect(typeof parse(text, parameter, FRAME)).toBe("string");
  });
});
