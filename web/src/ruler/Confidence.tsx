/** How sure it is, frame by frame, where the region in hand is that follows; where it was not found there is no line. */

import type { Clip, Motion, Region } from "../api/client";
import { useMotion } from "../api/motion";
import { useBench } from "../bench/store";

export function Confidence({ clip, region }: { readonly clip: Clip; readonly region: Region }) {
  const at = useBench((state) => state.at);
  const { data: motion, error } = useMotion(at, region.track?.motion ?? null);
  if (error) return <span className="row-start-3 self-center text-ink-3">{error.message}</span>;
  if (!motion) return null;
  const held = new Set(motion.held);
  return (
    <svg
      className="row-start-3 block h-4 w-full self-center overflow-visible"
      preserveAspectRatio="none"
      viewBox={`0 0 ${Math.max(clip.frames - 1, 1)} 1`}
      role="img"
      aria-label={`How sure it is where ${region.name} is: ${clip.frames - motion.doubtful.length} of ${clip.frames} frames are sure`}
    >
      <path d={`M0 0.5H${Math.max(clip.frames - 1, 1)}`} stroke="var(--color-line)" strokeDasharray="1 3" vectorEffect="non-scaling-stroke" fill="none" />
      <path d={lineOf(motion, held)} stroke="var(--color-ink)" strokeWidth="1.5" vectorEffect="non-scaling-stroke" fill="none" />
    </svg>
  );
}

function lineOf({ first, confidence }: Motion, held: ReadonlySet<number>): string {
  let drawn = false;
  return confidence
    .map((each, k) => {
      if (held.has(first + k)) {
        drawn = false;
        return "";
      }
      const to = `${drawn ? "L" : "M"}${first + k} ${(0.88 - 0.76 * each).toFixed(3)}`;
      // a frame alone is a dot
      const dot = drawn || !(k + 1 >= confidence.length || held.has(first + k + 1)) ? "" : `h0.3`;
      drawn = true;
      return to + dot;
    })
    .join("");
}
