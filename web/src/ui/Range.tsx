/** What the library's slider says and hears, over what is drawn for it: name, value, keys of assistive technology. */

import { type RefObject, useRef } from "react";
import { useSlider, useSliderThumb } from "react-aria";
import { useSliderState } from "react-stately";

type Props = {
  readonly label: string;
  /** what is read out: Intl knows neither EV nor Duv */
  readonly text: string;
  readonly value: number;
  readonly low: number;
  readonly high: number;
  readonly step: number;
  readonly orientation?: "horizontal" | "vertical";
  readonly input?: RefObject<HTMLInputElement | null>;
  readonly onChange: (value: number) => void;
};

export function Range({ label, text, value, low, high, step, orientation = "horizontal", input, onChange }: Props) {
  const track = useRef<HTMLDivElement>(null);
  const own = useRef<HTMLInputElement>(null);
  const inputRef = input ?? own;
  const slider = {
    "aria-label": label,
    orientation,
    minValue: low,
    maxValue: high,
    step,
    value: [value],
    onChange: ([next = value]: number[]) => onChange(next),
  };
  const state = useSliderState({ ...slider, numberFormatter: { format: () => text } as unknown as Intl.NumberFormat });
  const { groupProps } = useSlider(slider, state, track);
  const { inputProps } = useSliderThumb({ "aria-label": label, index: 0, trackRef: track, inputRef }, state);
  return (
    // the pointer's way is its parent's
    <div {...groupProps} ref={track} className="pointer-events-none absolute inset-0">
      <input {...inputProps} ref={inputRef} className="size-full opacity-0" />
    </div>
  );
}
