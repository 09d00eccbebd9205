/** A vertical fader between two threads; the way from neutral is drawn as worked openwork. */

import { useEffect, useEffectEvent, useRef } from "react";
import type { Parameter } from "../api/client";
import { clamp, type Frame, neutralOf, pixels, placeOf, show, stepped, valueAt } from "../document/numbers";
import { follow } from "../bench/drag";
import { Range } from "../ui/Range";
import { NumberField } from "./NumberField";

type Props = {
  readonly parameter: Parameter;
  readonly value: number;
  readonly frame: Frame;
  readonly active: boolean;
  readonly withPixels: boolean;
  readonly disabled?: boolean;
  readonly onChange: (value: number) => void;
  readonly onChangeEnd: (value: number) => void;
};

const FINE = 0.1;

const FADER =
  "group/fader flex min-w-13.5 flex-[0_1_var(--spacing-fader)] flex-col items-center text-center group-has-[>[data-parameter]:nth-of-type(9)]/faders:min-w-12";

export function Fader(props: Props) {
  const { parameter, value, frame, active, withPixels, onChangeEnd } = props;
  const atNeutral = Math.abs(value - neutralOf(parameter, frame)) < 1e-4;
  const shown = show(value, parameter, frame);
  return (
    <div className={FADER} data-parameter={parameter.id} data-active={active ? "" : undefined} data-neutral={atNeutral ? "" : undefined}>
      <NumberField {...{ parameter, value, frame }} onCommit={onChangeEnd} />
      <Track {...props} height={withPixels ? 72 : 84} text={`${shown.digits} ${shown.unit}`} />
      <span className="max-w-full text-label leading-3.5 font-medium text-balance text-ink-2 group-data-active/fader:font-semibold group-data-active/fader:text-ink group-has-[>[data-parameter]:nth-of-type(9)]/faders:text-[11.5px]">{parameter.name}</span>
      {withPixels && <span className="font-face text-note font-medium text-ink-3 whitespace-nowrap">{pixelText(parameter, value, frame)}</span>}
    </div>
  );
}

function pixelText(parameter: Parameter, value: number, frame: Frame): string {
  if (parameter.unit === "length" || parameter.unit === "across") return `${String(pixels(value, frame)).replace("-", "\u2212")} px`;
  return parameter.unit === "angle" ? `±${parameter.high}°` : "\u00a0";
}

type TrackProps = Props & { readonly height: number; readonly text: string };

/** The library's slider says and hears; the pointer's way is ours: from where it lies, fine with Shift, taken back by Escape. */
function Track({ parameter, value, frame, active, height, text, onChange, onChangeEnd }: TrackProps) {
  const track = useRef<HTMLDivElement>(null);
  const input = useRef<HTMLInputElement>(null);
  const neutral = neutralOf(parameter, frame);
  const within = (next: number) => clamp(next, parameter.floor, parameter.ceiling);
  const turned = useEffectEvent((event: WheelEvent) => {
    event.preventDefault();
    const step = parameter.step * (event.shiftKey ? FINE : 1) * (event.deltaY < 0 ? 1 : -1);
    onChangeEnd(within(stepped(value + step, parameter.step * FINE)));
  });
  useEffect(() => {
    // a passive listener could not keep the page still
    const wheel = (event: WheelEvent) => turned(event);
    const target = track.current;
    target?.addEventListener("wheel", wheel, { passive: false });
    return () => target?.removeEventListener("wheel", wheel);
  }, []);

  const press = (event: React.PointerEvent<HTMLDivElement>) => {
    input.current?.focus({ preventScroll: true });
    const from = placeOf(value, parameter, frame);
    let last = value;
    let moved = false;
    follow(event, {
      onMove: (drag) => {
        const way = (drag.from.y - drag.to.y) / (height - 8);
        if (!moved && Math.abs(drag.from.y - drag.to.y) < 2) return;
        moved = true;
        last = within(valueAt(from + way * (drag.shift ? FINE : 1), parameter, frame, drag.shift));
        onChange(last);
      },
      onEnd: (kept) => {
        if (moved && kept) onChangeEnd(last);
      },
    });
  };
  const key = (event: React.KeyboardEvent) => {
    if (event.key === "Escape") {
      // back to the word that led here; what is chosen stays
      const word = document.querySelector<HTMLElement>(".told [aria-pressed=true]");
      if (!word) return;
      event.stopPropagation();
      word.focus();
      return;
    }
    const next = event.key === "Backspace" ? neutral : byKey(event, value, parameter);
    if (next === null) return;
    event.preventDefault();
    event.stopPropagation();
    onChangeEnd(within(next));
  };
  return (
    <div
      ref={track}
      role="presentation"
      className="relative mt-1 mb-0.5 w-9 touch-none rounded-token outline-offset-2 outline-focus has-focus-visible:outline-2"
      onPointerDown={press}
      onDoubleClick={() => onChangeEnd(neutral)}
      onKeyDown={key}
    >
      <Range
        label={parameter.name}
        orientation="vertical"
        low={parameter.floor}
        high={parameter.ceiling}
        step={parameter.step * FINE}
        onChange={(next) => onChangeEnd(within(next))}
        {...{ text, value, input }}
      />
      <svg className="block overflow-visible" width="36" height={height} viewBox={`-2 0 36 ${height}`} aria-hidden>
        <rect x="-20" width="72" height={height} fill="transparent" />
        <Threads
          height={height}
          zero={placeOf(neutral, parameter, frame)}
          place={placeOf(value, parameter, frame)}
          active={active}
          neutral={Math.abs(value - neutral) < 1e-4}
        />
      </svg>
    </div>
  );
}

function byKey(event: React.KeyboardEvent, value: number, parameter: Parameter): number | null {
  const step = parameter.step * (event.shiftKey ? FINE : 1);
  const by = (way: number) => stepped(value + way * step, parameter.step * FINE);
  switch (event.key) {
    case "ArrowUp":
    case "ArrowRight":
      return by(1);
    case "ArrowDown":
    case "ArrowLeft":
      return by(-1);
    case "PageUp":
      return by(10);
    case "PageDown":
      return by(-10);
    case "Home":
      return parameter.low;
    case "End":
      return parameter.high;
    default:
      return null;
  }
}

type ThreadsProps = {
  readonly height: number;
  readonly zero: number;
  readonly place: number;
  readonly active: boolean;
  readonly neutral: boolean;
};

function Threads({ height, zero, place, active, neutral }: ThreadsProps) {
  const y = (p: number) => 4 + (height - 8) * (1 - p);
  const yz = y(zero);
  const yp = y(place);
  const top = Math.min(yz, yp);
  const bottom = Math.max(yz, yp);
  let crosses = "";
  for (let k = top; k < bottom - 0.5; k += 8) {
    const end = Math.min(k + 8, bottom);
    const share = (end - k) / 8;
    crosses += `M12 ${k}L${12 + 8 * share} ${end}M20 ${k}L${20 - 8 * share} ${end}`;
  }
  const worked = active ? "var(--color-mark-line)" : "var(--color-ink-2)";
  const fill = active ? "var(--color-mark)" : "var(--color-ink)";
  const middle = neutral ? "var(--color-ink-3)" : active ? "var(--color-mark-ink)" : "var(--color-tray)";
  return (
    <>
      <path d={`M12 2V${height - 2}M20 2V${height - 2}`} stroke="var(--color-edge)" />
      <path d={`M9 2.5H23M9 ${height - 2.5}H23`} stroke="var(--color-edge)" />
      <path d={`M4 ${yz}H10M22 ${yz}H28`} stroke="var(--color-ink-3)" />
      <path d={crosses} stroke={worked} strokeWidth="1.1" fill="none" />
      {!neutral && <path d={`M12 ${top}V${bottom}M20 ${top}V${bottom}`} stroke={worked} strokeWidth="1.5" />}
      {neutral ? (
        <rect x="2.75" y={yp - 4.25} width="26.5" height="8.5" rx="2" fill="var(--color-tray)" stroke="var(--color-ink-3)" strokeWidth="1.5" />
      ) : (
        <rect x="2" y={yp - 5} width="28" height="10" rx="2" fill={fill} stroke="var(--color-tray)" strokeWidth="2" paintOrder="stroke" />
      )}
      {!neutral && active && (
        <rect x="2.75" y={yp - 4.25} width="26.5" height="8.5" rx="1.5" fill="none" stroke="var(--color-mark-line)" strokeWidth="1.5" />
      )}
      <path d={`M8 ${yp}H24`} stroke={middle} />
    </>
  );
}
