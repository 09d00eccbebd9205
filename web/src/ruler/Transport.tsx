/** Play and stop, the frame and the time as they are typed, and the range. */

import { useState } from "react";
import type { Clip } from "../api/client";
import { togglePlaying } from "../bench/playing";
import { useBench } from "../bench/store";
import { goTo, markRange, wholeRange } from "../bench/time";
import { frameTyped } from "../document/keyframes";
import { timeOf } from "../document/time";
import { Menu } from "../ui/pressed";

type Props = { readonly clip: Clip; readonly shown: number };

export function Transport({ clip, shown }: Props) {
  const playing = useBench((state) => state.playing);
  const range = useBench((state) => state.range);
  const [first, last] = [range?.first ?? 0, range?.last ?? clip.frames - 1];
  return (
    <>
      <div className="col-start-1 row-span-2 row-start-1 grid grid-cols-[2.25rem_minmax(0,1fr)] items-center">
        <button
          type="button"
          className="grid size-7 place-items-center rounded-[14px] border border-edge text-ink hover:bg-token focus-visible:outline-2 focus-visible:outline-focus"
          aria-label={playing ? "Stop" : "Play"}
          title="Space, tapped"
          onClick={togglePlaying}
        >
          <svg width="12" height="12" viewBox="0 0 12 12" aria-hidden>
            <path d={playing ? "M2 1.5h3v9H2zM7 1.5h3v9H7z" : "M2.5 1v10L11 6z"} fill="currentColor" />
          </svg>
        </button>
        <div>
          <p className="flex items-baseline gap-1.5 whitespace-nowrap">
            <FrameField shown={shown} clip={clip} />
            <span>of {clip.frames - 1}</span>
          </p>
          <div className="flex items-baseline gap-1 whitespace-nowrap text-ink-3">
            {timeOf(shown, clip.base)}
            <Menu
              name={range ? `${first}–${last}` : "loop all"}
              label="Range"
              active={range !== null}
              sections={[
                {
                  single: false,
                  lines: [
                    { id: "first", name: "begins here", on: false, onPress: () => markRange("first") },
                    { id: "last", name: "ends here", on: false, onPress: () => markRange("last") },
                    { id: "all", name: "whole length", on: range === null, onPress: wholeRange },
                  ],
                },
              ]}
            />
          </div>
        </div>
      </div>
    </>
  );
}

/** The frame, to be typed as a number or as a time. */
function FrameField({ shown, clip }: Props) {
  const [typed, setTyped] = useState<string | null>(null);
  const commit = (text: string) => {
    const frame = frameTyped(text, clip.base);
    setTyped(null);
    if (frame !== null) goTo(frame);
  };
  return (
    <input
      className="h-5 w-13 rounded-token bg-field px-1 text-center text-number font-semibold text-ink tabular-nums shadow-[inset_0_0_0_1px_var(--color-line)]"
      aria-label="Frame, number or time"
      title="A frame, or a time: 2 s 6 f, 2:06, 2.5 s"
      value={typed ?? String(shown)}
      onFocus={(event) => event.currentTarget.select()}
      onChange={(event) => setTyped(event.currentTarget.value)}
      onBlur={(event) => typed !== null && commit(event.currentTarget.value)}
      onKeyDown={(event) => {
        event.stopPropagation();
        if (event.key === "Enter") {
          commit(event.currentTarget.value);
          event.currentTarget.blur();
        }
        if (event.key === "Escape") {
          setTyped(null);
          event.currentTarget.blur();
        }
      }}
    />
  );
}
