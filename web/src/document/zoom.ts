/** Where the picture stands on the stage. `scale` is screen (CSS) pixels per full-size pixel; `x`, `y` its corner. */

export type Zoom = { readonly scale: number; readonly x: number; readonly y: number };
export type Size = { readonly width: number; readonly height: number };
export type Point = { readonly x: number; readonly y: number };

const MARGIN = 16;
const LARGEST = 16;

export function fitted(stage: Size, picture: Size): Zoom {
  const scale = Math.min((stage.width - 2 * MARGIN) / picture.width, (stage.height - 2 * MARGIN) / picture.height);
  const least = Math.max(scale, 0.01);
  return {
    scale: least,
    x: (stage.width - picture.width * least) / 2,
    y: (stage.height - picture.height * least) / 2,
  };
}

/** Zooms so that the place under `at` stays there. */
export function zoomedAt(zoom: Zoom, factor: number, at: Point): Zoom {
  const scale = Math.min(Math.max(zoom.scale * factor, 0.02), LARGEST);
  const share = scale / zoom.scale;
  return { scale, x: at.x - (at.x - zoom.x) * share, y: at.y - (at.y - zoom.y) * share };
}

/** Two fingers: what was under each stays under it, as far as one scale allows. */
export function pinched(zoom: Zoom, from: readonly [Point, Point], to: readonly [Point, Point]): Zoom {
  const way = ([a, b]: readonly [Point, Point]) => Math.max(Math.hypot(a.x - b.x, a.y - b.y), 1);
  const middle = ([a, b]: readonly [Point, Point]) => ({ x: (a.x + b.x) / 2, y: (a.y + b.y) / 2 });
  const before = middle(from);
  const after = middle(to);
  const scaled = zoomedAt(zoom, way(to) / way(from), before);
  return { ...scaled, x: scaled.x + after.x - before.x, y: scaled.y + after.y - before.y };
}

/** The zoom that shows another picture as high as this one, about the same middle. */
export function likewise(zoom: Zoom, picture: Size, other: Size): Zoom {
  const scale = (zoom.scale * picture.height) / other.height;
  return { scale, x: zoom.x + (picture.width * zoom.scale - other.width * scale) / 2, y: zoom.y };
}

/** So much of the picture stays on the stage, in its pixels. */
const STRIP = 48;

/** Where a stretch of `length` lies so that a strip of it stays in the room. */
function inSight(at: number, length: number, room: number): number {
  const strip = Math.min(STRIP, length, room);
  return Math.min(Math.max(at, strip - length), room - strip);
}

/** Keeps at least a strip of the picture on the stage, and one that is smaller whole. */
export function kept(zoom: Zoom, stage: Size, picture: Size): Zoom {
  return {
    scale: zoom.scale,
    x: inSight(zoom.x, picture.width * zoom.scale, stage.width),
    y: inSight(zoom.y, picture.height * zoom.scale, stage.height),
  };
}

/** The visible part of the picture, in full-size pixels; null when none is. */
export function visible(zoom: Zoom, stage: Size, picture: Size): readonly [number, number, number, number] | null {
  const left = Math.max(0, -zoom.x / zoom.scale);
  const top = Math.max(0, -zoom.y / zoom.scale);
  const right = Math.min(picture.width, (stage.width - zoom.x) / zoom.scale);
  const bottom = Math.min(picture.height, (stage.height - zoom.y) / zoom.scale);
  return right - left < 1 || bottom - top < 1 ? null : [left, top, right - left, bottom - top];
}

export function toStage(zoom: Zoom, point: Point): Point {
  return { x: zoom.x + point.x * zoom.scale, y: zoom.y + point.y * zoom.scale };
}

export function toPicture(zoom: Zoom, point: Point): Point {
  return { x: (point.x - zoom.x) / zoom.scale, y: (point.y - zoom.y) / zoom.scale };
}
