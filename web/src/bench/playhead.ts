/** Where the playhead is while playing, apart from the bench's state, which need not follow so often; and its screen. */

import { create } from "zustand";

export const usePlayhead = create<{ readonly frame: number }>()(() => ({ frame: 0 }));

type Screen = (bitmap: ImageBitmap) => void;
let screen: Screen | null = null;

/** Shows the frames that are played; the picture's canvas says where. */
export function onScreen(show: Screen | null): void {
  screen = show;
}

export function showFrame(bitmap: ImageBitmap): void {
  screen?.(bitmap);
}
