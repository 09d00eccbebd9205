/** The ruler of a clip: thumbnails, sound, keyframes, and the one position in time. */

import { useEffect, useRef, useState } from "react";
import { Slider, SliderThumb, SliderTrack } from "react-aria-components";
import type { Clip, Shot } from "../api/client";
import { usePlayhead } from "../bench/playhead";
import { goTo, stepBy } from "../bench/time";
import { useFollowed } from "../bench/follow";
import { regionInView, useBench } from "../bench/store";
import { regionOf } from "../document/edit";
import { timeOf } from "../document/time";
import { Confidence } from "./Confidence";
import { Coverage } from "./Coverage";
import { Keyframes } from "./Keyframes";
import { Rendered } from "./Rendered";
import { Thumbnails } from "./Thumbnails";
import { Transport } from "./Transport";
import { Sound } from "./Sound";
import { useTimeKeys } from "./useTimeKeys";

type Props = { readonly shot: Shot; readonly clip: Clip };

const ROWS = "grid-rows-[1rem_2.625rem_1.375rem_1.375rem]";
const COVERED_ROWS = "grid-rows-[1rem_2.625rem_1rem_0.875rem_0.75rem]";

/** The frame that shows: where the bench stands, or where it plays. */
function useShown(): number {
  const frame = useBench((state) => state.frame ?? 0);
  const playing = useBench((state) => state.playing);
  const played = usePlayhead((state) => state.frame);
  return playing ? played : frame;
}

export function Ruler({ shot, clip }: Props) {
  const shown = useShown();
  const region = useBench((state) => regionOf(state.sheet, regionInView(state)));
  const followed = region?.track ? region : null;
  const cover = useBench((state) => state.covers.find((each) => each.region === region?.id));
  useTimeKeys();
  useFollowed(useBench((state) => state.at?.project ?? ""));
  const [line, width] = useWidth();
  return (
    <section
      aria-label="Time"
      data-ruler
      className={`grid h-32 grid-cols-[11rem_minmax(0,1fr)] ${cover ? COVERED_ROWS : ROWS} gap-y-0.5 border-t border-line bg-tray px-5 pt-1.5 text-label font-medium text-ink-2`}
    >
      <Transport {...{ clip, shown }} />
      <div ref={line} className="relative col-start-2 row-span-full row-start-1 grid grid-rows-subgrid">
        <Ticks clip={clip} width={width} />
        <Thumbnails shot={shot} width={width} />
        {followed ? <Confidence {...{ clip }} region={followed} /> : clip.sound && <Sound shot={shot} />}
        <Keyframes clip={clip} width={width} />
        {cover && <Coverage {...{ clip, cover }} />}
        <Rendered clip={clip} />
        <Range clip={clip} />
        <Playhead clip={clip} shown={shown} />
      </div>
      <span className="col-start-1 row-start-3 self-center text-ink-3">{followed ? "Confidence" : clip.sound ? "Sound" : "No sound"}</span>
      <span className="col-start-1 row-start-4 self-center text-ink-3">Keyframes</span>
      {cover && <span className="col-start-1 row-start-5 self-center text-ink-3">{cover.open > 0 ? `Coverage, ${cover.open} open` : "Coverage"}</span>}
    </section>
  );
}

function useWidth() {
  const element = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(0);
  useEffect(() => {
    if (!element.current) return;
    const target = element.current;
    const watcher = new ResizeObserver(([entry]) => setWidth(entry?.contentRect.width ?? 0));
    watcher.observe(target);
    // a passive listener could not keep the page from scrolling
    const wheel = (event: WheelEvent) => {
      event.preventDefault();
      stepBy(event.deltaY + event.deltaX > 0 ? 1 : -1);
    };
    target.addEventListener("wheel", wheel, { passive: false });
    return () => {
      watcher.disconnect();
      target.removeEventListener("wheel", wheel);
    };
  }, []);
  return [element, width] as const;
}

/** So far apart numbers stand at least, in pixels. */
const APART = 64;

function Ticks({ clip, width }: { readonly clip: Clip; readonly width: number }) {
  const last = Math.max(clip.frames - 1, 1);
  const steps = [1, 2, 5, 10, ...[0.5, 1, 2, 5, 10, 30, 60, 120, 300, 600, 1800].map((seconds) => Math.max(1, Math.round(seconds * clip.base)))];
  const step = steps.toSorted((a, b) => a - b).find((each) => (each / last) * width >= APART) ?? last;
  const numbers = Array.from({ length: Math.floor(last / step) + 1 }, (_, k) => k * step).filter((each) => (1 - each / last) * width > APART / 3 || each === 0);
  return (
    <svg className="row-start-1 block h-4 w-full overflow-visible text-note tabular-nums" aria-hidden>
      {numbers.map((each) => (
        <text key={each} x={`${(each / last) * 100}%`} y="11" textAnchor={each === 0 ? "start" : "middle"} fill="var(--color-ink-3)" fontSize="11">
          {each}
        </text>
      ))}
    </svg>
  );
}

/** What lies outside of the range is dimmed. */
function Range({ clip }: { readonly clip: Clip }) {
  const range = useBench((state) => state.range);
  if (!range) return null;
  const last = Math.max(clip.frames - 1, 1);
  const [from, to] = [(range.first / last) * 100, (range.last / last) * 100];
  return (
    <svg className="pointer-events-none absolute inset-x-0 top-4 h-11 w-full" preserveAspectRatio="none" viewBox="0 0 100 10" aria-hidden>
      <path d={`M0 0H${from}V10H0zM${to} 0H100V10H${to}z`} fill="var(--color-tray)" fillOpacity="0.72" />
      <path d={`M${from} 0V10M${to} 0V10`} stroke="var(--color-ink)" strokeWidth="2" vectorEffect="non-scaling-stroke" />
    </svg>
  );
}

function Playhead({ clip, shown }: { readonly clip: Clip; readonly shown: number }) {
  return (
    <Slider
      aria-label="Frame"
      className="absolute inset-x-0 top-0"
      minValue={0}
      maxValue={clip.frames - 1}
      value={shown}
      onChange={(frame) => goTo(Number(frame))}
    >
      <SliderTrack className="relative h-15 w-full cursor-default">
        <SliderThumb
          className="group top-1.5 size-3 outline-none"
          aria-label={`Frame ${shown}, ${timeOf(shown, clip.base)}`}
        >
          <span className="absolute -top-0.5 left-0 h-2.5 w-3 rounded-[2px] bg-ink shadow-[0_0_0_1px_var(--color-casing)] group-data-focus-visible:outline-2 group-data-focus-visible:outline-offset-2 group-data-focus-visible:outline-focus" />
          <span className="pointer-events-none absolute top-2 left-[5px] h-25 w-[1.5px] bg-ink shadow-[0_0_0_1px_var(--color-casing)]" />
        </SliderThumb>
      </SliderTrack>
    </Slider>
  );
}
