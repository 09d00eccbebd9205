/** The keyframes of the region in hand: press one to go there, drag it in time, Delete takes it away. */

import { useRef, useState } from "react";
import { mergeProps, useMove } from "react-aria";
import type { Clip } from "../api/client";
import { change } from "../bench/saving";
import { regionInView, useBench } from "../bench/store";
import { goTo } from "../bench/time";
import { regionOf } from "../document/edit";
import { moveKey, removeKey } from "../document/keyframes";
import { setFrames } from "../document/follow";
import { keyframesOf } from "../document/time";
import { moveFix, removeFix } from "../document/tracks";

type Props = { readonly clip: Clip; readonly width: number };

export function Keyframes({ clip, width }: Props) {
  const region = useBench((state) => regionOf(state.sheet, regionInView(state)));
  const frame = useBench((state) => state.frame);
  const track = region?.track;
  const keys = region && (track ? setFrames(region) : keyframesOf(region));
  if (!region || !keys || keys.length === 0) {
    return <span className="row-start-4 self-center text-ink-3">{region ? `${region.name} stands still` : "Choose a region that moves"}</span>;
  }
  const last = Math.max(clip.frames - 1, 1);
  return (
    <div role="group" aria-label={`Keyframes of ${region.name}`} className="relative row-start-4 before:absolute before:inset-x-0 before:top-1/2 before:h-px before:bg-line">
      {keys.map((key) => (
        <Lozenge key={key} {...{ region: region.id, at: key, last, width }} here={key === frame} only={keys.length === 1} of={track ? { move: moveFix, remove: removeFix, marked: track.at } : OF_KEYS} />
      ))}
    </div>
  );
}

type Of = { readonly move: typeof moveKey; readonly remove: typeof removeKey; readonly marked: number | null };

const OF_KEYS: Of = { move: moveKey, remove: removeKey, marked: null };

type LozengeProps = {
  readonly of: Of;
  readonly region: string;
  readonly at: number;
  readonly last: number;
  readonly width: number;
  readonly here: boolean;
  readonly only: boolean;
};

function Lozenge({ region, at, last, width, here, only, of }: LozengeProps) {
  const marked = of.marked === at;
  const [shift, setShift] = useState(0);
  const way = useRef(0);
  const target = () => Math.min(Math.max(at + Math.round(way.current), 0), last);
  const { moveProps } = useMove({
    onMoveStart: () => {
      way.current = 0;
    },
    onMove: ({ deltaX, pointerType }) => {
      way.current += pointerType === "keyboard" ? deltaX : (deltaX / Math.max(width, 1)) * last;
      setShift(target() - at);
    },
    onMoveEnd: () => {
      const to = target();
      setShift(0);
      if (to === at || marked) return;
      change(of.move(useBench.getState().sheet, region, at, to), `keyframe ${at} to ${to}`);
      goTo(to);
    },
  });
  const remove = () => {
    if (!only && !marked) change(of.remove(useBench.getState().sheet, region, at), `keyframe ${at} removed`);
  };
  const onKeyDown = (event: React.KeyboardEvent) => {
    if (event.key === "Enter" || event.key === " ") goTo(at);
    else if (event.key === "Delete" || event.key === "Backspace") remove();
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  return (
    <button
      type="button"
      {...mergeProps(moveProps, { onKeyDown })}
      onClick={() => goTo(at)}
      aria-label={of.marked === null ? `Keyframe ${at}` : marked ? `Marked in frame ${at}` : `Correction ${at}`}
      aria-pressed={here}
      className="absolute top-1/2 grid size-6 -translate-1/2 cursor-ew-resize touch-none place-items-center outline-none focus-visible:outline-2 focus-visible:outline-focus"
      style={{ left: `${((at + shift) / last) * 100}%` }}
    >
      <span className={`rotate-45 ${here ? "size-2.5 bg-mark shadow-[0_0_0_1px_var(--color-mark-line)]" : "size-2 bg-ink"}`} />
    </button>
  );
}
