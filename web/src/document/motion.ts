/** What a motion tells of its frames, as pure functions. */

import type { Motion } from "../api/client";

/** Below it a place is likely to be off. */
const SURE = 0.5;
const WEAKEST = 10;

/** How sure it is at a frame; where it was not found, or not looked for, not at all. */
function sureness(motion: Motion, frames: number): readonly number[] {
  const held = new Set(motion.held);
  return Array.from({ length: frames }, (_, frame) => (held.has(frame) ? 0 : (motion.confidence[frame - motion.first] ?? 0)));
}

/** The frames that a person should look at, in order. */
export function doubtful(motion: Motion, frames: number): readonly number[] {
  return sureness(motion, frames).flatMap((each, frame) => (each < SURE ? [frame] : []));
}

/** The least sure frames, in order of time. */
export function weakest(motion: Motion, frames: number): readonly number[] {
  const ranked = sureness(motion, frames)
    .map((sure, frame) => ({ sure, frame }))
    .toSorted((a, b) => a.sure - b.sure);
  return ranked
    .slice(0, WEAKEST)
    .map(({ frame }) => frame)
    .toSorted((a, b) => a - b);
}
