/** Strokes as the sheet keeps them: a flat way of x, y and pressure, and the brush as it then was. */

import type { Stroke } from "../api/client";
import type { Point } from "./zoom";

/** What the server takes at once: three numbers a point. */
const MOST_NUMBERS = 6000;
const DIGITS = 5;
/** Points nearer than this share of the brush add nothing. */
const LEAST_STEP = 0.08;

export type Brush = {
  readonly size: number;
  readonly hardness: number;
  readonly flow: number;
  readonly density: number;
  readonly colour_tolerance: number;
  readonly pen: "none" | "flow" | "size";
};

export const HARD: Brush = { size: 0.03, hardness: 1, flow: 1, density: 1, colour_tolerance: 0, pen: "none" };

function rounded(value: number): number {
  return Number(value.toFixed(DIGITS));
}

export function strokeOf(brush: Brush, does: "add" | "erase", x: number, y: number, pressure: number): Stroke {
  return { ...brush, does, points: [rounded(x), rounded(y), rounded(pressure)] };
}

/** The stroke with a point more; a point next to the last one changes nothing but its pressure. */
export function lengthened(stroke: Stroke, x: number, y: number, pressure: number): Stroke {
  const { points: way } = stroke;
  if (way.length + 3 > MOST_NUMBERS) return stroke;
  const dx = x - (way.at(-3) ?? x);
  const dy = y - (way.at(-2) ?? y);
  if (Math.hypot(dx, dy) < LEAST_STEP * stroke.size) return stroke;
  return { ...stroke, points: [...way, rounded(x), rounded(y), rounded(pressure)] };
}

/** A straight stroke from where this one began. */
export function straight(stroke: Stroke, x: number, y: number, pressure: number): Stroke {
  return { ...stroke, points: [...stroke.points.slice(0, 3), rounded(x), rounded(y), rounded(pressure)] };
}

export function pointsAlong(stroke: Stroke): Point[] {
  const points: Point[] = [];
  for (let k = 0; k + 2 < stroke.points.length; k += 3) points.push({ x: stroke.points[k] ?? 0, y: stroke.points[k + 1] ?? 0 });
  return points;
}

/** Where a stroke ends, in picture heights. */
export function endOf(stroke: Stroke | undefined): Point | null {
  return stroke ? (pointsAlong(stroke).at(-1) ?? null) : null;
}
