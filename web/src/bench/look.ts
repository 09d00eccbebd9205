/** How the bench looks at its draft: the view, and what belongs to it. */

import type { Sheet } from "../api/client";
import type { ViewOrder } from "../api/pictures";
import { type BenchState, OF_A_REGION, regionInView } from "./store";

export function lookOf(state: BenchState): Omit<ViewOrder, "scale"> {
  const region = regionInView(state);
  const bare = state.peek !== null || (OF_A_REGION.has(state.view) && !region);
  return {
    view: state.source ? "source" : bare ? "picture" : state.view,
    region,
    ground: state.ground,
    thread: state.lattice.thread,
    density: state.lattice.density,
    lattice_inside: state.lattice.inside,
    exaggerate: state.exaggerated && state.selection.kind !== "nothing" ? state.selection.pass : null,
  };
}

/** What is looked at: a starter that one rests on, or the draft. */
export const seenOf = (state: BenchState): Sheet => state.peek ?? state.sheet;

/** The size that frames are played in: never larger than the stage shows, in steps, so that a loop finds what was rendered before. */
export function playedScale({ zoom, stage, size }: BenchState): number {
  const fit = stage && size ? Math.min(stage.width / size.width, stage.height / size.height, 1) : 1;
  return Math.min(1, Math.ceil(Math.min(zoom?.scale ?? fit, 1) * window.devicePixelRatio * 16) / 16);
}
