/** What painting and sampling do, as words: put in or take out, which sample, what fits the edge. */

import type { PartKind } from "../api/client";
import { type Does, type Takes, useBench } from "../bench/store";

const DOES: readonly (readonly [Does, string])[] = [
  ["put", "put in"],
  ["take", "take out"],
];
const ON: readonly (readonly [Does, string])[] = [
  ["put", "the subject"],
  ["take", "the surround"],
];

/** Whether strokes put in or take out; for a rough-in, what they lie on. */
export function DoesWords({ marks = false }: { readonly marks?: boolean }) {
  const does = useBench((state) => state.does);
  return (
    <div className="joins" role="radiogroup" aria-label="What a stroke does">
      {marks ? "Strokes on" : "Strokes"}
      {(marks ? ON : DOES).map(([id, name]) => (
        <button key={id} type="button" title="Whether strokes add to the part or take from it (P)" role="radio" className="word" aria-checked={id === does} onClick={() => useBench.setState({ does: id })}>
          {name}
        </button>
      ))}
    </div>
  );
}

const TAKES: readonly (readonly [Takes, string])[] = [
  ["set", "anew"],
  ["put", "more"],
  ["take", "out"],
];

/** What a press on the picture takes for a range or a sampled colour. */
export function TakesWords({ kind }: { readonly kind: PartKind }) {
  const takes = useBench((state) => state.takes);
  const ranges = kind.slopes.length > 0;
  const shown = !ranges && takes === "set" ? "put" : takes;
  return (
    <div className="joins" role="radiogroup" aria-label="What a sample does">
      Sample:
      {TAKES.filter(([id]) => ranges || id !== "set").map(([id, name]) => (
        <button key={id} type="button" title="Whether a sample stands alone, widens what is taken, or narrows it" role="radio" className="word" aria-checked={id === shown} onClick={() => useBench.setState({ takes: id })}>
          {name}
        </button>
      ))}
    </div>
  );
}
