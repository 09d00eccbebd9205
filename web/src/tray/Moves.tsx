/** Time in the tray: whether the region in hand moves, its keyframes, and in which frames the pass in hand acts. */

import type { Catalogue, Clip, Ease, Pass, Region } from "../api/client";
import { change } from "../bench/saving";
import { useBench } from "../bench/store";
import { stepToKey } from "../bench/time";
import { setPass } from "../document/edit";
import { easeOf, removeKey, setEase, startMoving, stopMoving } from "../document/keyframes";
import { keyframesOf } from "../document/time";
import { Button } from "../ui/Button";
import { Choice } from "../ui/Choice";
import { Field } from "../ui/Field";
import { Say, WordLine } from "../ui/Words";
import { Following } from "./Following";
import { kindOf } from "./values";

type Props = { readonly catalogue: Catalogue; readonly region: Region; readonly clip: Clip };

const EASES: readonly { readonly id: Ease; readonly name: string; readonly tip: string }[] = [
  { id: "smooth", name: "smooth", tip: "A soft way to the next keyframe, never past it" },
  { id: "linear", name: "straight", tip: "Evenly to the next keyframe" },
  { id: "hold", name: "held", tip: "Stays until the next keyframe" },
];

const sheet = () => useBench.getState().sheet;

export function Moves({ catalogue, region, clip }: Props) {
  const frame = useBench((state) => state.frame ?? 0);
  const keys = keyframesOf(region);
  const ease = easeOf(region, frame);
  const drawn = region.parts.some((part) => kindOf(catalogue, part.kind)?.beads);
  const painted = region.parts.some((part) => ["marks", "strokes"].includes(kindOf(catalogue, part.kind)?.drawn ?? ""));
  if (region.track) return <Following {...{ region, clip }} />;
  return (
    <>
      {keys.length === 0 ? (
        <>
          <Say look="small">It stands still, over the whole length.</Say>
          <WordLine>
            {drawn ? (
              <Button
                title="From then on, correcting it at a frame makes a keyframe there"
                onClick={() => change(startMoving(sheet(), region.id, frame, (kind) => kindOf(catalogue, kind)), `${region.name} moves`)}
              >
                let it move
              </Button>
            ) : (
              !painted && <span>Nothing of it is drawn that could move.</span>
            )}
          </WordLine>
          {(drawn || painted) && <Following {...{ region, clip }} />}
        </>
      ) : (
        <>
          <Say look="small">
            Moves through {keys.length} {keys.length === 1 ? "keyframe" : "keyframes"}. Correct it at any frame, and one is set there.
          </Say>
          <WordLine>
            <Button onClick={() => stepToKey(-1)}>keyframe before</Button>
            <Button onClick={() => stepToKey(1)}>after</Button>
            <Button
              title="As it stands at this frame, for the whole length"
              onClick={() => change(stopMoving(sheet(), region.id), `${region.name} stands still`)}
            >
              stand still
            </Button>
          </WordLine>
          {ease !== null && (
            <WordLine>
              <Choice
                label="From this keyframe on"
                lead="From here on:"
                options={EASES}
                value={ease}
                onChange={(to) => change(setEase(sheet(), region.id, frame, to), `${to} from ${frame} on`)}
              />
              {keys.length > 1 && (
                <Button onClick={() => change(removeKey(sheet(), region.id, frame), `keyframe ${frame} removed`)}>remove keyframe</Button>
              )}
            </WordLine>
          )}
        </>
      )}
    </>
  );
}

type Span = NonNullable<Pass["span"]>;

/** In which frames a pass acts, and over how many it comes and goes. */
export function PassSpan({ pass, clip }: { readonly pass: Pass; readonly clip: Clip }) {
  const last = clip.frames - 1;
  const span: Span = pass.span ?? { first: 0, last, fade_in: 0, fade_out: 0 };
  const set = (fields: Partial<Span>) => {
    const next = { ...span, ...fields };
    const whole = next.first <= 0 && next.last >= last && !next.fade_in && !next.fade_out;
    const sane = { ...next, first: Math.min(next.first, last), last: Math.max(next.last, Math.min(next.first, last)) };
    change(setPass(useBench.getState().sheet, pass.id, { span: whole ? null : sane }), `when ${pass.name} acts`);
  };
  return (
    <div>
      <WordLine>
        {pass.name} acts from
        <Frames label="First frame" value={span.first} onCommit={(first) => set({ first })} />
        to
        <Frames label="Last frame" value={Math.min(span.last, last)} onCommit={(to) => set({ last: to })} />
      </WordLine>
      <WordLine>
        comes over
        <Frames label="Frames in which it comes" value={span.fade_in ?? 0} onCommit={(fade_in) => set({ fade_in })} />
        goes over
        <Frames label="Frames in which it goes" value={span.fade_out ?? 0} onCommit={(fade_out) => set({ fade_out })} />
      </WordLine>
    </div>
  );
}

type FramesProps = { readonly label: string; readonly value: number; readonly onCommit: (frames: number) => void };

/** A number of frames. */
function Frames({ label, value, onCommit }: FramesProps) {
  const commit = (field: HTMLInputElement) => {
    const next = Math.round(field.valueAsNumber);
    if (Number.isFinite(next) && next >= 0 && next !== value) onCommit(next);
    else field.value = String(value);
  };
  return (
    <Field
      key={value}
      type="number"
      min={0}
      className="input-xs! h-5.5! w-14 px-1! text-center tabular-nums"
      aria-label={label}
      defaultValue={value}
      onBlur={(event) => commit(event.currentTarget)}
      onKeyDown={(event) => {
        event.stopPropagation();
        if (event.key === "Enter") event.currentTarget.blur();
      }}
    />
  );
}
