/** Where the pointer stands over the picture, in full-size pixels; apart from the bench, since it changes all the time. */

import { create } from "zustand";
import type { Point, Size } from "../document/zoom";

export const usePointer = create<{ readonly point: Point | null }>()(() => ({ point: null }));

export function pointAway(): void {
  usePointer.setState({ point: null });
}

export function pointAt(point: Point, picture: Size): void {
  const within = point.x >= 0 && point.y >= 0 && point.x < picture.width && point.y < picture.height;
  usePointer.setState({ point: within ? point : null });
}
