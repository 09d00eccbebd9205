/** The one position in time, and what stands where at it. */

import { api, asked, type Shot } from "../api/client";
import { DRAFT, onDraft, sameDraft, standAt } from "../api/draft";
import { anyMoves, keyframesOf, standing } from "../document/time";
import { regionOf } from "../document/edit";
import { setFrames } from "../document/follow";
import { latest } from "./latest";
import { regionInView, useBench } from "./store";

/** Asks how moving parts stand at the present frame, so that handles and faders show them there. */
const teller = latest<null>(async () => {
  const { at, sheet, frame } = useBench.getState();
  if (!at || frame === null) return;
  if (!anyMoves(sheet)) {
    useBench.setState({ moved: [] });
    return;
  }
  try {
    const moved = await onDraft(at, sheet, (path) => asked(api.GET(`${DRAFT}/moved`, { params: { path } })));
    const now = useBench.getState();
    if (now.frame !== frame || now.dragging || now.at !== at) return;
    useBench.setState({ moved, sheet: sameDraft(standing(now.sheet, moved), now.sheet) });
  } catch {
    // the picture says what is wrong; the outlines stay where they were
    useBench.setState({ moved: null });
  }
});

export function standSoon(): void {
  teller.want(null);
}

/** Begins at a shot: a clip at a frame of it, a still at none. */
export function beginAt(shot: Shot, frame: number | null): void {
  const clip = shot.clip ?? null;
  const first = clip ? clamped(frame ?? clip.poster, clip.frames) : null;
  standAt(shot.id, first);
  useBench.setState({ clip, frame: first, range: null, moved: null, playing: false, slow: "" });
}

function clamped(frame: number, frames: number): number {
  return Math.min(Math.max(Math.round(frame), 0), frames - 1);
}

/** Goes to a frame. */
export function goTo(frame: number): void {
  const { clip, at, frame: before } = useBench.getState();
  if (!clip || !at) return;
  const next = clamped(frame, clip.frames);
  if (next === before) return;
  standAt(at.shot, next);
  useBench.setState({ frame: next });
  standSoon();
}

export function stepBy(frames: number): void {
  const { frame } = useBench.getState();
  if (frame !== null) goTo(frame + frames);
}

/** Goes to the keyframe before or after; where there is none, to the clip's end. */
export function stepToKey(way: 1 | -1): void {
  const state = useBench.getState();
  const { frame, clip, sheet } = state;
  if (frame === null || !clip) return;
  const region = regionOf(sheet, regionInView(state));
  const keys = region ? (region.track ? setFrames(region) : keyframesOf(region)) : [];
  const found = way > 0 ? keys.find((each) => each > frame) : keys.findLast((each) => each < frame);
  goTo(found ?? (way > 0 ? clip.frames - 1 : 0));
}

/** Marks where the range begins or ends; both at once: the whole length again. */
export function markRange(end: "first" | "last"): void {
  const { frame, clip, range } = useBench.getState();
  if (frame === null || !clip) return;
  const whole = range ?? { first: 0, last: clip.frames - 1 };
  const next = { ...whole, [end]: frame };
  useBench.setState({ range: next.first <= next.last ? next : { first: frame, last: frame } });
}

export function wholeRange(): void {
  useBench.setState({ range: null });
}
