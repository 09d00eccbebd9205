/** In which frames what must be covered is: covered is solid, absent hatched, open a hole with a bright edge. */

import type { Clip, Cover, CoverRun } from "../api/client";

export function Coverage({ clip, cover }: { readonly clip: Clip; readonly cover: Cover }) {
  return (
    <svg
      className="row-start-5 block h-2.5 w-full self-center overflow-visible"
      preserveAspectRatio="none"
      viewBox={`0 0 ${clip.frames} 10`}
      role="img"
      aria-label={`Coverage: ${cover.says}`}
    >
      <defs>
        <pattern id="absent" patternUnits="userSpaceOnUse" width="0.8" height="10">
          <path d="M0 10L0.8 0" stroke="var(--color-ink-3)" strokeWidth="1" vectorEffect="non-scaling-stroke" />
        </pattern>
      </defs>
      {cover.runs.map((run) => (
        <Run key={run.first} run={run} />
      ))}
    </svg>
  );
}

const FILLS = { covered: "var(--color-ink-2)", absent: "url(#absent)", open: "none", off: "none" } as const;

function Run({ run }: { readonly run: CoverRun }) {
  const edge = run.state === "open" ? "var(--color-mark)" : run.state === "absent" ? "var(--color-line)" : "none";
  return (
    <rect
      x={run.first + (run.state === "open" ? 0.08 : 0)}
      y="0.5"
      width={run.last - run.first + (run.state === "open" ? 0.84 : 1)}
      height="9"
      fill={FILLS[run.state]}
      stroke={edge}
      strokeWidth={run.state === "open" ? 1.5 : 1}
      vectorEffect="non-scaling-stroke"
    />
  );
}
