/** The frames that are rendered for playing, as a thin line under the thumbnails: these play at once. */

import { useQuery } from "@tanstack/react-query";
import type { Clip } from "../api/client";
import { fetchRendered } from "../api/play";
import { lookOf, playedScale, seenOf } from "../bench/look";
import { useBench } from "../bench/store";

const EVERY_MS = 500;

export function Rendered({ clip }: { readonly clip: Clip }) {
  const state = useBench();
  const { at, stage } = state;
  const sheet = seenOf(state);
  const look = { ...lookOf(state), scale: playedScale(state) };
  const { data } = useQuery({
    // asked anew when it begins to play and when it stops
    queryKey: ["rendered", at?.shot, state.saved?.revision, state.playing, JSON.stringify(look)],
    queryFn: () => (at ? fetchRendered(at, sheet, look) : []),
    enabled: at !== null && stage !== null && state.saved !== null && !state.dragging,
    refetchInterval: state.playing ? EVERY_MS : false,
    retry: false,
  });
  if (!data || data.length === 0) return null;
  const count = data.reduce((sum, [first = 0, last = 0]) => sum + last - first + 1, 0);
  return (
    <svg
      className="pointer-events-none absolute inset-x-0 top-14.5 h-0.5 w-full"
      preserveAspectRatio="none"
      viewBox={`0 0 ${clip.frames} 1`}
      role="img"
      aria-label={count === clip.frames ? "All frames are rendered" : `${count} of ${clip.frames} frames are rendered`}
    >
      <path d={data.map(([first = 0, last = 0]) => `M${first} 0H${last + 1}V1H${first}z`).join("")} fill="var(--color-ink-2)" />
    </svg>
  );
}
