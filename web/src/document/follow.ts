/** Regions that go along with what moves: how they stand at a frame, and what a correction there makes, as pure functions. */

import type { Fix, MovedPart, Part, Region } from "../api/client";

/** A part of a region that follows, which shows how it stands at a frame, keeps how it was marked. */
export type Shown = Part & { readonly own?: Pick<Part, "values" | "points"> };

/** What a motion carries of a part besides its points. */
const PLACED: readonly string[] = ["x", "y", "width", "height", "turn", "angle"];
const NO_FIX: Required<Fix> = { dx: 0, dy: 0, scale: 1, turn: 0 };

export const follows = (region: Region): boolean => Boolean(region.track);

/** The frames at which a motion was corrected, in order. */
export const fixesOf = (region: Region): readonly number[] =>
  [...new Set([...Object.keys(region.track?.fixes ?? {}), ...Object.keys(region.track?.marks ?? {})])]
    .map(Number)
    .toSorted((a, b) => a - b);

/** The frames that were set by hand: where it was marked, and where it was corrected, in order. */
export const setFrames = (region: Region): readonly number[] =>
  region.track ? [...new Set([region.track.at, ...fixesOf(region)])].toSorted((a, b) => a - b) : [];

/** A part as it stands at a frame, keeping how it was marked. */
export function carriedPart(part: Shown, at: MovedPart): Part {
  const marked = markedPart(part);
  if (!at.own) return marked;
  const placed = Object.fromEntries(PLACED.flatMap((id) => (at.values[id] === undefined ? [] : [[id, at.values[id]]])));
  const shown: Shown = { ...marked, values: { ...marked.values, ...placed }, points: at.points, own: { values: marked.values ?? {}, points: marked.points ?? [] } };
  return shown;
}

/** A part as it was marked, with what was changed of it since and is not carried. */
export function markedPart(part: Shown): Part {
  const { own, ...rest } = part;
  if (!own) return part;
  const free = Object.entries(part.values ?? {}).filter(([id]) => !PLACED.includes(id));
  const placed = Object.entries(own.values ?? {}).filter(([id]) => PLACED.includes(id));
  return { ...rest, values: Object.fromEntries([...free, ...placed]), points: own.points ?? [] };
}

/** A region in which what was corrected at a frame, against how it stood there, has become a correction of its motion. */
export function fixed(region: Region, moved: readonly MovedPart[], frame: number): Region {
  const track = region.track;
  if (!track || frame === track.at) return region;
  for (const part of region.parts) {
    const before = moved.find((each) => each.region === region.id && each.part === part.id);
    const change = before?.own && between(before, part);
    if (!before || !change) continue;
    const base = { ...NO_FIX, ...before.fix };
    const fix = { dx: base.dx + change.dx, dy: base.dy + change.dy, scale: base.scale * change.scale, turn: base.turn + change.turn };
    return { ...region, track: { ...track, fixes: { ...track.fixes, [frame]: fix } } };
  }
  return region;
}

/** How the corrections stand at a frame once a change is made, for the next one. */
export function fixAfter(region: Region, before: MovedPart, frame: number): Fix | null {
  return region.track?.fixes?.[String(frame)] ?? before.fix ?? null;
}

const number = (of: Part["values"], id: string) => Number(of?.[id] ?? 0);

function between(before: MovedPart, after: Part): Required<Fix> | null {
  const points = after.points ?? [];
  const shift = (id: string) => (after.values?.[id] === undefined ? 0 : number(after.values, id) - number(before.values, id));
  const area = number(before.values, "width") * number(before.values, "height");
  const now = number(after.values, "width") * number(after.values, "height");
  const change = { dx: shift("x"), dy: shift("y"), scale: area > 0 && now > 0 ? Math.sqrt(now / area) : 1, turn: shift("turn") + shift("angle") };
  if (told(change) || before.points.length === 0 || points.length !== before.points.length) return told(change);
  return ofPoints(before.points, points);
}

const told = (change: Required<Fix>) => (change.dx || change.dy || change.scale !== 1 || change.turn ? change : null);

type Corners = readonly (readonly number[])[];

/** The shift, size and turn that take points nearest to others: the least squares of a similarity. */
function ofPoints(before: Corners, after: Corners): Required<Fix> | null {
  const middle = (points: Corners) => [0, 1].map((k) => points.reduce((sum, point) => sum + (point[k] ?? 0), 0) / points.length);
  const [ax = 0, ay = 0] = middle(before);
  const [bx = 0, by = 0] = middle(after);
  let along = 0;
  let across = 0;
  let size = 0;
  for (const [k, point] of before.entries()) {
    const [x, y] = [(point[0] ?? 0) - ax, (point[1] ?? 0) - ay];
    const [u, v] = [(after[k]?.[0] ?? 0) - bx, (after[k]?.[1] ?? 0) - by];
    along += x * u + y * v;
    across += x * v - y * u;
    size += x * x + y * y;
  }
  const scale = size > 0 ? Math.hypot(along, across) / size : 1;
  return told({ dx: bx - ax, dy: by - ay, scale, turn: (Math.atan2(across, along) * 180) / Math.PI });
}
