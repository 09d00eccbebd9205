/** Geometry of the linear gradient: a line, or the two edges of a band, and how far the matte falls beside it. */

import { type Feathers, type Outline, turnOf } from "./outline";
import type { Point } from "./zoom";

export type Gradient = Feathers & {
  readonly x: number;
  readonly y: number;
  readonly turn: number;
  readonly width: number;
  readonly sides: string;
};

/** Lines run this far beyond the point they go through, in picture heights. */
const FAR = 6;
/** Grips and chips stand within this much of the line, around its middle. */
const REACH = 1.1;

/** Along the line, and the direction in which the matte falls. */
function axes(gradient: Gradient): { readonly along: Point; readonly fall: Point } {
  const angle = (gradient.turn * Math.PI) / 180;
  const cos = Math.cos(angle);
  const sin = Math.sin(angle);
  return { along: { x: cos, y: sin }, fall: { x: -sin, y: cos } };
}

function half(gradient: Gradient): number {
  return gradient.sides === "two" ? gradient.width / 2 : 0;
}

/** A point `along` the line and `down` the fall from the gradient's own. */
export function gradientPoint(gradient: Gradient, along: number, down: number): Point {
  const { along: a, fall } = axes(gradient);
  return { x: gradient.x + along * a.x + down * fall.x, y: gradient.y + along * a.y + down * fall.y };
}

/** How far down the fall a point lies, from the gradient's own line. */
export function fallTo(gradient: Gradient, point: Point): number {
  const { fall } = axes(gradient);
  return (point.x - gradient.x) * fall.x + (point.y - gradient.y) * fall.y;
}

export function gradientOutline(gradient: Gradient): Outline {
  const band = half(gradient);
  const two = gradient.sides === "two";
  const line = (down: number) => ({
    points: [gradientPoint(gradient, -FAR, down), gradientPoint(gradient, FAR, down)],
    closed: false,
  });
  return {
    parallel: (d) => {
      if (!two) return [line(d)];
      return band + d > 0 ? [line(band + d), line(-band - d)] : [];
    },
    beside: (d, share) => {
      if (!two) return gradientPoint(gradient, (share - 0.5) * REACH, d);
      // the first half of the way goes along the near edge of a band, the other half along its far edge
      const along = (((2 * share) % 1) - 0.5) * REACH;
      return gradientPoint(gradient, along, share < 0.5 ? -band - d : band + d);
    },
    distance: (point) => (two ? Math.abs(fallTo(gradient, point)) - band : fallTo(gradient, point)),
  };
}

/** The turn after the bead on the line was drawn to a point. */
export function gradientTurn(from: Gradient, to: Point, stepped: boolean): number {
  return turnOf((Math.atan2(to.y - from.y, to.x - from.x) * 180) / Math.PI, stepped);
}

/** A gradient drawn from where it is full to where it is none. */
export function drawnGradient(from: Point, to: Point, stepped: boolean): Omit<Gradient, "width" | "sides"> {
  const length = Math.max(Math.hypot(to.x - from.x, to.y - from.y), 0.004);
  const turn = turnOf((Math.atan2(to.y - from.y, to.x - from.x) * 180) / Math.PI - 90, stepped);
  const angle = (turn * Math.PI) / 180;
  const x = from.x - (Math.sin(angle) * length) / 2;
  const y = from.y + (Math.cos(angle) * length) / 2;
  return { x, y, turn, feather_in: length / 2, feather_out: length / 2 };
}
