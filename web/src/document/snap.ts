/** Snapping to the frame: its edges and its centre lines. */

import type { Point } from "./zoom";

export type Guides = { readonly x: number | null; readonly y: number | null };
export const NO_GUIDES: Guides = { x: null, y: null };

type Near = { readonly by: number; readonly at: number | null };

function nearest(values: readonly number[], lines: readonly number[], within: number): Near {
  const all = values.flatMap((value) => lines.map((line) => ({ by: line - value, at: line })));
  const best = all.reduce<Near>((least, each) => (Math.abs(each.by) < Math.abs(least.by) ? each : least), {
    by: within,
    at: null,
  });
  return best.at === null ? { by: 0, at: null } : best;
}

/**
 * How far what has these places must go so that one of them lies on an edge or a centre line of a frame `aspect`
 * picture heights wide, and on which; places farther than `within` stay.
 */
export function snapped(places: readonly Point[], aspect: number, within: number): { readonly by: Point; readonly guides: Guides } {
  const x = nearest(places.map((place) => place.x), [0, aspect / 2, aspect], within);
  const y = nearest(places.map((place) => place.y), [0, 0.5, 1], within);
  return { by: { x: x.by, y: y.by }, guides: { x: x.at, y: y.at } };
}
