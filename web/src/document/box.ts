/** Geometry of what has a width, a height and a turn: the ellipse with its roundness, the rectangle with its corners. */

import { type Feathers, middle, type Outline, parallelOf, type Rim, turnOf } from "./outline";
import type { Point } from "./zoom";

export type Box = Feathers & {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
  readonly turn: number;
  /** of an ellipse: 1 round, toward 0 a rectangle; of a kind with neither the outline is its frame */
  readonly roundness?: number;
  /** of a rectangle: radius as a share of half the shorter side */
  readonly corner?: number;
};

const POINTS = 240;
const ARC = 10;
const SIDE = 40;

type Own = { readonly u: number; readonly v: number };
type OwnRim = Own & { readonly nu: number; readonly nv: number };

function turned(box: Box): { readonly cos: number; readonly sin: number } {
  const angle = (box.turn * Math.PI) / 180;
  return { cos: Math.cos(angle), sin: Math.sin(angle) };
}

/** A point of the box's own axes → the picture. */
function outward(box: Box, u: number, v: number): Point {
  const { cos, sin } = turned(box);
  return { x: box.x + u * cos - v * sin, y: box.y + u * sin + v * cos };
}

/** A point of the picture → the box's own axes. */
function inward(box: Box, point: Point): Own {
  const { cos, sin } = turned(box);
  const dx = point.x - box.x;
  const dy = point.y - box.y;
  return { u: dx * cos + dy * sin, v: dy * cos - dx * sin };
}

function ellipseRim(box: Box, degrees: number): OwnRim {
  const exponent = 2 / (box.roundness ?? 1);
  const a = Math.max(box.width / 2, 1e-4);
  const b = Math.max(box.height / 2, 1e-4);
  const angle = (degrees * Math.PI) / 180;
  const cos = Math.cos(angle);
  const sin = Math.sin(angle);
  const radius = (Math.abs(cos) ** exponent + Math.abs(sin) ** exponent) ** (-1 / exponent);
  const u = radius * cos;
  const v = radius * sin;
  const gu = (Math.sign(u) * Math.abs(u) ** (exponent - 1)) / a;
  const gv = (Math.sign(v) * Math.abs(v) ** (exponent - 1)) / b;
  const length = Math.hypot(gu, gv) || 1;
  return { u: a * u, v: b * v, nu: gu / length, nv: gv / length };
}

function cornerRadius(box: Box): number {
  return ((box.corner ?? 0) * Math.min(box.width, box.height)) / 2;
}

/** Round a rectangle from the middle of its right side on: corner by corner an arc, then the side after it. */
function rectangleRims(box: Box): readonly OwnRim[] {
  const radius = cornerRadius(box);
  const a = box.width / 2 - radius;
  const b = box.height / 2 - radius;
  return [0, 1, 2, 3].flatMap((quarter) => {
    const cu = quarter === 0 || quarter === 3 ? a : -a;
    const cv = quarter < 2 ? b : -b;
    const arc = Array.from({ length: ARC + 1 }, (_, k) => {
      const angle = ((quarter + k / ARC) * Math.PI) / 2;
      const nu = Math.cos(angle);
      const nv = Math.sin(angle);
      return { u: cu + radius * nu, v: cv + radius * nv, nu, nv };
    });
    const [end] = arc.slice(-1);
    if (!end) return arc;
    const way = quarter % 2 === 0 ? 2 * a : 2 * b;
    const side = Array.from({ length: SIDE - 1 }, (_, k) => {
      const on = (way * (k + 1)) / SIDE;
      return { ...end, u: end.u - end.nv * on, v: end.v + end.nu * on };
    });
    return [...arc, ...side];
  });
}

function ownRims(box: Box): readonly OwnRim[] {
  if (box.roundness === undefined) return rectangleRims(box);
  return Array.from({ length: POINTS }, (_, k) => ellipseRim(box, (k * 360) / POINTS));
}

function distance(box: Box, rims: readonly OwnRim[], point: Point): number {
  const { u, v } = inward(box, point);
  if (box.roundness === undefined) {
    const radius = cornerRadius(box);
    const qu = Math.abs(u) - box.width / 2 + radius;
    const qv = Math.abs(v) - box.height / 2 + radius;
    return Math.hypot(Math.max(qu, 0), Math.max(qv, 0)) + Math.min(Math.max(qu, qv), 0) - radius;
  }
  const best = Math.min(...rims.map((p) => Math.hypot(u - p.u, v - p.v)));
  const exponent = 2 / (box.roundness ?? 1);
  const inside = Math.abs((2 * u) / box.width) ** exponent + Math.abs((2 * v) / box.height) ** exponent < 1;
  return inside ? -best : best;
}

export function boxOutline(box: Box): Outline {
  const own = ownRims(box);
  const { cos, sin } = turned(box);
  const rims = own.map((p): Rim => {
    const at = outward(box, p.u, p.v);
    return { x: at.x, y: at.y, nx: p.nu * cos - p.nv * sin, ny: p.nu * sin + p.nv * cos };
  });
  return {
    parallel: (d) => [parallelOf(rims, d)],
    beside: (d, share) => {
      const rim = rims[Math.round(share * rims.length) % rims.length] as Rim;
      return { x: rim.x + d * rim.nx, y: rim.y + d * rim.ny };
    },
    distance: (point) => distance(box, own, point),
  };
}

type Keep = { readonly square: boolean; readonly centred: boolean };
export type EdgeName = "right" | "left" | "bottom" | "top";
export const EDGE_NAMES: readonly EdgeName[] = ["right", "left", "bottom", "top"];
const EDGES: Readonly<Record<EdgeName, readonly [number, number]>> = {
  right: [1, 0],
  left: [-1, 0],
  bottom: [0, 1],
  top: [0, -1],
};

export function edgePoint(box: Box, edge: EdgeName): Point {
  const [du, dv] = EDGES[edge];
  const out = middle(box);
  return outward(box, du * (box.width / 2 + out), dv * (box.height / 2 + out));
}

/** The box after its edge bead was drawn to a point: the far edge stays, or the centre when `centred`. */
export function sized(from: Box, edge: EdgeName, to: Point, keep: Keep): Partial<Box> {
  const [du, dv] = EDGES[edge];
  const { u, v } = inward(from, to);
  const along = u * du + v * dv - middle(from);
  const before = du !== 0 ? from.width / 2 : from.height / 2;
  const half = Math.max(keep.centred ? along : (along + before) / 2, 0.001);
  const shift = keep.centred ? 0 : half - before;
  const centre = outward(from, du * shift, dv * shift);
  const size = du !== 0 ? { width: 2 * half } : { height: 2 * half };
  const square = keep.square ? { width: 2 * half, height: 2 * half } : size;
  return { x: centre.x, y: centre.y, ...square };
}

/** A box drawn from corner to corner, or from its centre when `centred`. */
export function drawnBox(from: Point, to: Point, keep: Keep): Pick<Box, "x" | "y" | "width" | "height"> {
  let dx = to.x - from.x;
  let dy = to.y - from.y;
  if (keep.square) {
    const side = Math.max(Math.abs(dx), Math.abs(dy));
    dx = Math.sign(dx || 1) * side;
    dy = Math.sign(dy || 1) * side;
  }
  const share = keep.centred ? 2 : 1;
  const shift = keep.centred ? 0 : 0.5;
  const size = { width: Math.max(Math.abs(dx) * share, 0.004), height: Math.max(Math.abs(dy) * share, 0.004) };
  return { x: from.x + dx * shift, y: from.y + dy * shift, ...size };
}

/** The turn after the outer bead, which stands `angle` round from the box's own axis, was drawn to a point. */
export function turnedTo(from: Box, angle: number, to: Point, stepped: boolean): number {
  return turnOf(((Math.atan2(to.y - from.y, to.x - from.x) - angle) * 180) / Math.PI, stepped);
}

/** Where a bead stands, and under which angle from the box's own axis, in radians; `out` is the way outward there, in degrees. */
type Turning = { readonly at: Point; readonly angle: number; readonly out: number };

/** The rim halfway between two edges, in the quarter whose signs are given. */
function quarterRim(box: Box, su: number, sv: number): OwnRim {
  if (box.roundness !== undefined) return ellipseRim(box, (Math.atan2(sv, su) * 180) / Math.PI);
  const radius = cornerRadius(box);
  const [nu, nv] = [su * Math.SQRT1_2, sv * Math.SQRT1_2];
  return { u: su * (box.width / 2 - radius) + radius * nu, v: sv * (box.height / 2 - radius) + radius * nv, nu, nv };
}

const QUARTERS = [
  [1, 1],
  [1, -1],
  [-1, 1],
  [-1, -1],
] as const;

/**
 * Where the bead that turns the box stands: `gap` beyond the outer feather, or nearer where that would leave the
 * view, in the first quarter that leaves room for it.
 */
export function turnPlace(box: Box, gap: number, inView: (point: Point) => boolean): Turning {
  const nearest = middle(box) + gap;
  const places = QUARTERS.map(([su, sv]): Turning & { readonly fits: boolean } => {
    const rim = quarterRim(box, su, sv);
    const at = (d: number) => outward(box, rim.u + d * rim.nu, rim.v + d * rim.nv);
    let d = Math.max(box.feather_out + gap, nearest);
    while (d > nearest && !inView(at(d))) d -= gap / 4;
    d = Math.max(d, nearest);
    const angle = Math.atan2(rim.v + d * rim.nv, rim.u + d * rim.nu);
    return { at: at(d), angle, out: box.turn + (Math.atan2(rim.nv, rim.nu) * 180) / Math.PI, fits: inView(at(d)) };
  });
  return places.find((each) => each.fits) ?? (places[0] as Turning);
}
