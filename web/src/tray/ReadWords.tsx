/** What painting and sampling do, as words: put in or take out, which sample, what fits the edge. */

import type { PartKind } from "../api/client";
import { type Does, type SampleMode, useBench } from "../bench/store";
import { Choice } from "../ui/Choice";

const DOES: readonly (readonly [Does, string])[] = [
  ["add", "put in"],
  ["erase", "take out"],
];
const ON: readonly (readonly [Does, string])[] = [
  ["add", "the subject"],
  ["erase", "the surround"],
];

/** Whether strokes put in or take out; for a rough-in, what they lie on. */
export function DoesWords({ marks = false }: { readonly marks?: boolean }) {
  const does = useBench((state) => state.does);
  return (
    <Choice
      label="What a stroke does"
      className="min-h-6 gap-x-2.25 text-label font-medium text-ink-2 [&>label]:min-w-6"
      lead={marks ? "Strokes on" : "Strokes"}
      options={(marks ? ON : DOES).map(([id, name]) => ({ id, name, tip: "Whether strokes add to the part or take from it" }))}
      value={does}
      onChange={(id) => useBench.setState({ does: id })}
    />
  );
}

const TAKES: readonly (readonly [SampleMode, string])[] = [
  ["set", "anew"],
  ["add", "more"],
  ["erase", "out"],
];

/** What a press on the picture takes for a range or a sampled colour. */
export function TakesWords({ kind }: { readonly kind: PartKind }) {
  const takes = useBench((state) => state.sampleMode);
  const ranges = kind.slopes.length > 0;
  const shown = !ranges && takes === "set" ? "add" : takes;
  return (
    <Choice
      label="What a sample does"
      className="min-h-6 gap-x-2.25 text-label font-medium text-ink-2 [&>label]:min-w-6"
      lead="Sample:"
      options={TAKES.filter(([id]) => ranges || id !== "set").map(([id, name]) => ({ id, name, tip: "Whether a sample stands alone, widens what is taken, or narrows it" }))}
      value={shown}
      onChange={(id) => useBench.setState({ sampleMode: id })}
    />
  );
}
