/** The slope of a range as geometry: its beads, its line, and what moving one of them makes of it. */

import { clamp, stepped } from "./numbers";

/** Whole between low and high, soft beyond; a hue has its middle in low, half its width in high, one softness. */
export type Ends = { readonly low: number; readonly softLow: number; readonly high: number; readonly softHigh: number };
type Bead = { readonly at: number; readonly full: boolean };

/** Nothing, whole, whole, nothing: where each lies on the axis. */
export function beadsOf(ends: Ends, top: number, hue: boolean): readonly Bead[] {
  if (hue) {
    const at = (offset: number) => wrapped(ends.low + offset, top);
    return [
      { at: at(-ends.high - ends.softLow), full: false },
      { at: at(-ends.high), full: true },
      { at: at(ends.high), full: true },
      { at: at(ends.high + ends.softHigh), full: false },
    ];
  }
  return [
    { at: ends.low - ends.softLow, full: false },
    { at: ends.low, full: true },
    { at: ends.high, full: true },
    { at: ends.high + ends.softHigh, full: false },
  ];
}

function wrapped(value: number, top: number): number {
  return ((value % top) + top) % top;
}

/** The ends after a bead, or the whole slope where it is null, was moved by `by`. */
export function moved(ends: Ends, bead: number | null, by: number, top: number, step: number, hue: boolean): Ends {
  const made = hue ? movedHue(ends, bead, by, top) : movedRange(ends, bead, by, top);
  const round = (value: number) => stepped(value, step / 5);
  return { low: round(made.low), softLow: round(made.softLow), high: round(made.high), softHigh: round(made.softHigh) };
}

function movedRange(ends: Ends, bead: number | null, by: number, top: number): Ends {
  const { low, softLow, high, softHigh } = ends;
  switch (bead) {
    case 0:
      return { ...ends, softLow: clamp(softLow - by, 0, top) };
    case 1: {
      const next = clamp(low + by, 0, high);
      // the foot stays where it is, as far as it can
      return { ...ends, low: next, softLow: clamp(softLow + next - low, 0, top) };
    }
    case 2: {
      const next = clamp(high + by, low, top);
      return { ...ends, high: next, softHigh: clamp(softHigh - (next - high), 0, top) };
    }
    case 3:
      return { ...ends, softHigh: clamp(softHigh + by, 0, top) };
    default: {
      const way = clamp(by, low > 0 ? -low : 0, high < top ? top - high : top - low);
      return { ...ends, low: low > 0 ? low + way : 0, high: high < top ? high + way : top };
    }
  }
}

function movedHue(ends: Ends, bead: number | null, by: number, top: number): Ends {
  const soft = (value: number) => ({ softLow: clamp(value, 0, top / 2), softHigh: clamp(value, 0, top / 2) });
  switch (bead) {
    case 0:
      return { ...ends, ...soft(ends.softLow - by) };
    case 1:
      return { ...ends, high: clamp(ends.high - by, 0, top / 2) };
    case 2:
      return { ...ends, high: clamp(ends.high + by, 0, top / 2) };
    case 3:
      return { ...ends, ...soft(ends.softHigh + by) };
    default:
      return { ...ends, low: wrapped(ends.low + by, top) };
  }
}

function falling(t: number, profile: string): number {
  const share = clamp(1 - t, 0, 1);
  return profile === "straight" ? share : share * share * (3 - 2 * share);
}

function shareAt(value: number, ends: Ends, top: number, hue: boolean, profile: string): number {
  if (hue) {
    const away = Math.abs(wrapped(value - ends.low + top / 2, top) - top / 2) - ends.high;
    return away <= 0 ? 1 : ends.softLow > 0 ? falling(away / ends.softLow, profile) : 0;
  }
  const below = ends.low <= 0 ? 0 : ends.low - value;
  const above = ends.high >= top ? 0 : value - ends.high;
  const side = (away: number, soft: number) => (away <= 0 ? 1 : soft > 0 ? falling(away / soft, profile) : 0);
  return Math.min(side(below, ends.softLow), side(above, ends.softHigh));
}

/** The line of a slope in a field of a size, 1 near its top. */
export function slopeLine(ends: Ends, top: number, hue: boolean, profile: string, width: number, height: number): string {
  const count = width / 2;
  const points = Array.from({ length: count + 1 }, (_, k) => {
    const share = shareAt((k / count) * top, ends, top, hue, profile);
    return `${((k / count) * width).toFixed(1)} ${(height - share * (height - 4)).toFixed(1)}`;
  });
  return `M${points.join("L")}`;
}
