/** Geometry of outlines through corners. */

import { type Outline, parallelOf, type Rim } from "./outline";
import type { Point } from "./zoom";

/** A point of an outline as the sheet keeps it: x, y, and where it has handles x_in, y_in, x_out, y_out beside it. */
type Corner = readonly number[];
export type Corners = readonly Corner[];

const ARC_STEP = Math.PI / 10;
const ALL_SIDES = 260;

const CHORDS = 24;

export function placeOf(corner: Corner | undefined): Point {
  const [x = 0, y = 0] = corner ?? [];
  return { x, y };
}

/** Where a point's handle stands; on the point itself when it has none. */
export function handleOf(corner: Corner | undefined, side: "in" | "out"): Point {
  const { x, y } = placeOf(corner);
  const [, , ix = 0, iy = 0, ox = 0, oy = 0] = corner ?? [];
  return side === "in" ? { x: x + ix, y: y + iy } : { x: x + ox, y: y + oy };
}

type Cubic = readonly [Point, Point, Point, Point];

function sideAfter(corners: Corners, k: number): Cubic {
  const next = corners[(k + 1) % corners.length];
  return [placeOf(corners[k]), handleOf(corners[k], "out"), handleOf(next, "in"), placeOf(next)];
}

function between(a: Point, b: Point, t: number): Point {
  return { x: a.x + t * (b.x - a.x), y: a.y + t * (b.y - a.y) };
}

/** The point of a side at `t`, and the handles that cut the side there. */
function cut([a, b, c, d]: Cubic, t: number) {
  const ab = between(a, b, t);
  const bc = between(b, c, t);
  const cd = between(c, d, t);
  const into = between(ab, bc, t);
  const out = between(bc, cd, t);
  return { at: between(into, out, t), into, out, first: ab, last: cd };
}

export function middleOfSide(corners: Corners, k: number): Point {
  return cut(sideAfter(corners, k), 0.5).at;
}

function bends(corners: Corners, k: number): boolean {
  return (corners[k]?.length ?? 0) > 2 || (corners[(k + 1) % corners.length]?.length ?? 0) > 2;
}

/** The outline as straight lines, to be drawn. */
function flat(corners: Corners): readonly Point[] {
  return corners.flatMap((corner, k) => {
    if (!bends(corners, k)) return [placeOf(corner)];
    const side = sideAfter(corners, k);
    return Array.from({ length: CHORDS }, (_, i) => cut(side, i / CHORDS).at);
  });
}

function area(line: readonly Point[]): number {
  return line.reduce((sum, { x, y }, k) => {
    const next = line[(k + 1) % line.length] ?? { x, y };
    return sum + x * next.y - next.x * y;
  }, 0);
}

type Edge = { readonly from: Point; readonly to: Point; readonly angle: number };

/** Edges in order, each with the direction that leads out over it. */
function edges(line: readonly Point[]): readonly Edge[] {
  const sign = area(line) >= 0 ? 1 : -1;
  return line.flatMap((from, k) => {
    const to = line[(k + 1) % line.length] ?? from;
    if (to.x === from.x && to.y === from.y) return [];
    return [{ from, to, angle: Math.atan2(-(to.x - from.x) * sign, (to.y - from.y) * sign) }];
  });
}

function rims(line: readonly Point[]): readonly Rim[] {
  const all = edges(line);
  const whole = all.reduce((sum, { from, to }) => sum + Math.hypot(to.x - from.x, to.y - from.y), 0) || 1;
  return all.flatMap(({ from, to, angle }, k) => {
    const length = Math.hypot(to.x - from.x, to.y - from.y);
    const count = Math.max(2, Math.round((ALL_SIDES * length) / whole));
    const nx = Math.cos(angle);
    const ny = Math.sin(angle);
    const side = Array.from({ length: count + 1 }, (_, i) => {
      const t = i / count;
      return { x: from.x + t * (to.x - from.x), y: from.y + t * (to.y - from.y), nx, ny };
    });
    const next = all[(k + 1) % all.length]?.angle ?? angle;
    return [...side, ...arc(to, angle, next)];
  });
}

/** The directions between those of two edges, at the corner where they meet. */
function arc(at: Point, from: number, to: number): readonly Rim[] {
  const way = ((((to - from + Math.PI) % (2 * Math.PI)) + 2 * Math.PI) % (2 * Math.PI)) - Math.PI;
  const count = Math.ceil(Math.abs(way) / ARC_STEP);
  return Array.from({ length: count }, (_, k) => {
    const angle = from + (way * (k + 1)) / (count + 1);
    return { ...at, nx: Math.cos(angle), ny: Math.sin(angle) };
  });
}

function toEdge(point: Point, from: Point, to: Point): number {
  const ex = to.x - from.x;
  const ey = to.y - from.y;
  const t = ((point.x - from.x) * ex + (point.y - from.y) * ey) / (ex * ex + ey * ey || 1);
  const on = Math.min(Math.max(t, 0), 1);
  return Math.hypot(point.x - from.x - on * ex, point.y - from.y - on * ey);
}

/** Whether a point is inside, by the even-odd rule. */
function holds(line: readonly Point[], point: Point): boolean {
  return edges(line).reduce((inside, { from, to }) => {
    if (from.y <= point.y === to.y <= point.y) return inside;
    const at = from.x + ((point.y - from.y) / (to.y - from.y)) * (to.x - from.x);
    return at <= point.x ? !inside : inside;
  }, false);
}

export function cornersOutline(corners: Corners): Outline {
  const line = flat(corners);
  const all = rims(line);
  return {
    parallel: (d) => [d === 0 ? { points: line, closed: true } : parallelOf(all, d)],
    beside: (d, share) => {
      const rim = all[Math.round(share * all.length) % Math.max(all.length, 1)] ?? { x: 0, y: 0, nx: 0, ny: 0 };
      return { x: rim.x + d * rim.nx, y: rim.y + d * rim.ny };
    },
    distance: (point) => {
      const best = Math.min(...edges(line).map(({ from, to }) => toEdge(point, from, to)));
      return holds(line, point) ? -best : best;
    },
  };
}

export function centreOf(corners: Corners): Point {
  const line = corners.map(placeOf);
  const count = Math.max(line.length, 1);
  return { x: line.reduce((sum, { x }) => sum + x, 0) / count, y: line.reduce((sum, { y }) => sum + y, 0) / count };
}

/** A point at another place, its handles going with it. */
function moved(corner: Corner, to: Point): Corner {
  return [round(to.x), round(to.y), ...corner.slice(2)];
}

export function shifted(corners: Corners, dx: number, dy: number): Corners {
  return corners.map((corner) => {
    const { x, y } = placeOf(corner);
    return moved(corner, { x: x + dx, y: y + dy });
  });
}

export function cornerMoved(corners: Corners, at: number, to: Point): Corners {
  return corners.map((corner, k) => (k === at ? moved(corner, to) : corner));
}

function withHandles(at: Point, into: Point, out: Point): Corner {
  return [at.x, at.y, into.x - at.x, into.y - at.y, out.x - at.x, out.y - at.y].map(round);
}

/** A point more in the middle of a side, brought to a place; what the sides looked like they keep at their far ends. */
export function cornerAdded(corners: Corners, after: number, to: Point): Corners {
  const next = (after + 1) % corners.length;
  if (!bends(corners, after)) return [...corners.slice(0, after + 1), moved([], to), ...corners.slice(after + 1)];
  const { at, into, out, first, last } = cut(sideAfter(corners, after), 0.5);
  const made = moved(withHandles(at, into, out), to);
  const around = corners.map((corner, k) => {
    if (k === after) return withHandles(placeOf(corner), handleOf(corner, "in"), first);
    return k === next ? withHandles(placeOf(corner), last, handleOf(corner, "out")) : corner;
  });
  return [...around.slice(0, after + 1), made, ...around.slice(after + 1)];
}

/** A point less; what is left must still enclose something. */
export function cornerTaken(corners: Corners, at: number): Corners {
  const least = corners.some((corner) => corner.length > 2) ? 2 : 3;
  return corners.length > least ? corners.filter((_, k) => k !== at) : corners;
}

/** A handle at another place; the other one keeps in line with it unless `alone`. */
export function handleMoved(corners: Corners, at: number, side: "in" | "out", to: Point, alone: boolean): Corners {
  return corners.map((corner, k) => {
    if (k !== at) return corner;
    const place = placeOf(corner);
    const other = handleOf(corner, side === "in" ? "out" : "in");
    const length = Math.hypot(other.x - place.x, other.y - place.y);
    const way = Math.hypot(to.x - place.x, to.y - place.y) || 1;
    const share = -length / way;
    const follows = alone ? other : { x: place.x + share * (to.x - place.x), y: place.y + share * (to.y - place.y) };
    return side === "in" ? withHandles(place, to, follows) : withHandles(place, follows, to);
  });
}

/** A corner made smooth, with handles along its neighbours; a smooth point made a corner. */
export function turnedSmooth(corners: Corners, at: number): Corners {
  const count = corners.length;
  const before = placeOf(corners[(at + count - 1) % count]);
  const after = placeOf(corners[(at + 1) % count]);
  return corners.map((corner, k) => {
    if (k !== at) return corner;
    const { x, y } = placeOf(corner);
    if (corner.length > 2) return [x, y];
    const dx = (after.x - before.x) / 6;
    const dy = (after.y - before.y) / 6;
    return withHandles({ x, y }, { x: x - dx, y: y - dy }, { x: x + dx, y: y + dy });
  });
}

/** Points with handles along the way through their neighbours, but for the `sharp` ones. */
export function smoothed(corners: Corners, sharp: ReadonlySet<number>): Corners {
  return corners.map((corner, k) => (sharp.has(k) ? corner : (turnedSmooth(corners, k)[k] ?? corner)));
}

export function round(value: number): number {
  return Number(value.toFixed(5));
}
