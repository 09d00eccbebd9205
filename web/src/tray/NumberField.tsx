/** A number with its unit that can be typed, also beyond the fader's end. */

import { useState } from "react";
import type { Parameter } from "../api/client";
import { type Frame, parse, show } from "../document/numbers";

type Props = {
  readonly parameter: Parameter;
  readonly value: number;
  readonly frame: Frame;
  readonly onCommit: (value: number) => void;
};

export function NumberField({ parameter, value, frame, onCommit }: Props) {
  const [typed, setTyped] = useState<string | null>(null);
  const shown = show(value, parameter, frame);
  const rest = `${shown.digits}\u00a0${shown.unit}`;
  // the text is read from the field: a fast Enter may come before the state that mirrors it is drawn
  const commit = (text: string) => {
    setTyped(null);
    if (text === rest || text === shown.digits) return;
    const next = parse(text, parameter, frame);
    if (next !== null && next !== value) onCommit(next);
  };
  const keys = (event: React.KeyboardEvent<HTMLInputElement>) => {
    event.stopPropagation();
    const field = event.currentTarget;
    if (event.key === "Enter") field.blur();
    if (event.key === "Escape") {
      field.value = rest;
      field.blur();
    }
  };
  return (
    <span className="number">
      <input
        aria-label={`${parameter.name}, number`}
        inputMode="decimal"
        value={typed ?? rest}
        onFocus={(event) => {
          const field = event.currentTarget;
          // a press sets the caret after the focus; what was typed meanwhile stays
          requestAnimationFrame(() => field.value === rest && field.select());
        }}
        onChange={(event) => setTyped(event.currentTarget.value)}
        onBlur={(event) => commit(event.currentTarget.value)}
        onKeyDown={keys}
      />
    </span>
  );
}
