/** Where the playhead is while playing, apart from the bench's state, which need not follow so often; and its screen. */

import { create } from "zustand";

export const usePlayhead = create<{ readonly frame: number; /** whether the source is played */ readonly source: boolean }>()(() => ({ frame: 0, source: false }));

type Screen = (bitmap: ImageBitmap) => void;
/** The result's canvas, and the source's where it stands beside it. */
export type ScreenName = "result" | "source";
const screens = new Map<ScreenName, Screen>();

/** Shows the frames that are played; the picture's canvas says where. */
export function onScreen(name: ScreenName, show: Screen): () => void {
  screens.set(name, show);
  return () => {
    if (screens.get(name) === show) screens.delete(name);
  };
}

export function showFrame(name: ScreenName, bitmap: ImageBitmap): void {
  const screen = screens.get(name);
  if (screen) screen(bitmap);
  else bitmap.close();
}
