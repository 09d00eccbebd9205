/** What the handles ask of any outline, in picture heights. It draws lines; the matte itself is the server's. */

import type { Point } from "./zoom";

export type Feathers = { readonly feather_in: number; readonly feather_out: number };
export type Path = { readonly points: readonly Point[]; readonly closed: boolean };

export type Outline = {
  /** The lines at distance `d` (negative inside), without the loops that parallels would make. */
  readonly parallel: (d: number) => readonly Path[];
  /** A point at distance `d`, at a share 0…1 of the way round or along. */
  readonly beside: (d: number, share: number) => Point;
  /** Signed distance of a point to the outline as drawn; negative inside. */
  readonly distance: (point: Point) => number;
};

/** A point of an outline and the direction that leads out of it there. */
export type Rim = { readonly x: number; readonly y: number; readonly nx: number; readonly ny: number };

/** The closed line at distance `d` from rims that follow each other round an outline. */
export function parallelOf(rims: readonly Rim[], d: number): Path {
  const moved = rims.map((rim) => ({ x: rim.x + d * rim.nx, y: rim.y + d * rim.ny }));
  const least = (Math.abs(d) * 0.985) ** 2;
  const clear = moved.filter((p) => rims.every((r) => (p.x - r.x) ** 2 + (p.y - r.y) ** 2 >= least));
  return { points: clear, closed: true };
}

/** Where in the band (0 at its outer end, 1 at its inner end) the matte takes a value, per profile. */
const LEVELS: Readonly<Record<string, readonly [number, number]>> = {
  smooth: [0.13535, 0.86465],
  straight: [0.05, 0.95],
  bell: [0.26502, 0.73498],
};

/** Distances of the 5, 50 and 95 % lines from the outline. */
export function contourDistances(soft: Feathers, profile: string): readonly [number, number, number] {
  const [low, high] = LEVELS[profile] ?? [0.05, 0.95];
  const band = soft.feather_in + soft.feather_out;
  const at = (t: number) => soft.feather_out - t * band;
  return [at(low), at(0.5), at(high)];
}

/** How far the 50 % line, on which the beads sit, lies outside of the outline. */
export function middle(soft: Feathers): number {
  return (soft.feather_out - soft.feather_in) / 2;
}

/** Off the axes, so that a grip never stands on a bead; the first of these that is in view is taken. */
const GRIP_SHARES = [240, 210, 300, 330, 120, 150, 60, 30, 225, 315, 135, 45].map((degrees) => degrees / 360);

/** The share of the way at which the line at distance `d` can be gripped. */
export function gripShare(outline: Outline, d: number, inView: (point: Point) => boolean): number {
  return GRIP_SHARES.find((share) => inView(outline.beside(d, share))) ?? 240 / 360;
}

/** The turn, within ±180°, 15° apart when `stepped`. */
export function turnOf(degrees: number, stepped: boolean): number {
  const round = stepped ? Math.round(degrees / 15) * 15 : Number(degrees.toFixed(1));
  return ((((round + 180) % 360) + 360) % 360) - 180;
}
