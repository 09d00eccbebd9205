/** Points of a curve as they are drawn: kept apart, within the square. The curve itself is the core's. */

import type { CurvePoints } from "./edit";
import { clamp } from "./numbers";

const APART = 0.01;
const MOST = 16;

export const xOf = (point: readonly number[] | undefined) => point?.[0] ?? 0;
export const yOf = (point: readonly number[] | undefined) => point?.[1] ?? 0;

const rounded = (value: number) => Number(value.toFixed(4));

/** The points with one of them moved; it stays between its neighbours. */
export function moved(points: CurvePoints, index: number, x: number, y: number): CurvePoints {
  const low = index > 0 ? xOf(points[index - 1]) + APART : 0;
  const high = index < points.length - 1 ? xOf(points[index + 1]) - APART : 1;
  return points.map((point, k) => (k === index ? [rounded(clamp(x, low, high)), rounded(clamp(y, 0, 1))] : point));
}

/** The points with a new one, and its index; null where there is no room for one. */
export function inserted(points: CurvePoints, x: number, y: number): { points: CurvePoints; index: number } | null {
  if (points.length >= MOST || points.some((point) => Math.abs(xOf(point) - x) < APART)) return null;
  const index = points.filter((point) => xOf(point) < x).length;
  const made = [rounded(clamp(x, 0, 1)), rounded(clamp(y, 0, 1))];
  return { points: [...points.slice(0, index), made, ...points.slice(index)], index };
}

/** The points without one; two always stay. */
export function without(points: CurvePoints, index: number): CurvePoints {
  return points.length > 2 ? points.filter((_, k) => k !== index) : points;
}

/** The slope at an end as the core has it: through three points, held so that the line stays monotone. */
function endTangent(near: number, far: number, first: number, second: number): number {
  const slope = ((2 * near + far) * first - near * second) / (near + far);
  if (slope * first <= 0) return 0;
  return first * second <= 0 && Math.abs(slope) > 3 * Math.abs(first) ? 3 * first : slope;
}

/** A line through points with the slopes of a monotone cubic (Fritsch and Carlson), for drawing alone. */
export function drawn(points: CurvePoints, width: number, height: number): string {
  const x = (k: number) => xOf(points[k]) * width;
  const y = (k: number) => (1 - yOf(points[k])) * height;
  const slope = (k: number) => (y(k + 1) - y(k)) / (x(k + 1) - x(k));
  const last = points.length - 1;
  const wide = (k: number) => x(k + 1) - x(k);
  const tangent = (k: number) => {
    if (k === 0) return last > 1 ? endTangent(wide(0), wide(1), slope(0), slope(1)) : slope(0);
    if (k === last) return last > 1 ? endTangent(wide(k - 1), wide(k - 2), slope(k - 1), slope(k - 2)) : slope(k - 1);
    const [a, b] = [slope(k - 1), slope(k)];
    if (a * b <= 0) return 0;
    const [h, i] = [x(k) - x(k - 1), x(k + 1) - x(k)];
    return (3 * (h + i)) / ((2 * i + h) / a + (i + 2 * h) / b);
  };
  let path = `M${x(0)} ${y(0)}`;
  for (let k = 0; k < points.length - 1; k += 1) {
    const third = (x(k + 1) - x(k)) / 3;
    path += `C${x(k) + third} ${y(k) + third * tangent(k)} ${x(k + 1) - third} ${y(k + 1) - third * tangent(k + 1)} ${x(k + 1)} ${y(k + 1)}`;
  }
  return path;
}
