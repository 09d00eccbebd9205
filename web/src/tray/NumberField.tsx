/** A number with its unit that can be typed, also beyond the fader's end. */

import { useId, useState } from "react";
import type { Parameter } from "../api/client";
import { type Frame, parse, show } from "../document/numbers";

type Props = {
  readonly parameter: Parameter;
  readonly value: number;
  readonly frame: Frame;
  /** how wide it is */
  readonly className?: string;
  readonly onCommit: (value: number) => void;
};

/** How long a refusal stays after the field was left. */
const SAID_MS = 4000;

export function NumberField({ parameter, value, frame, className = "w-[min(var(--spacing-field-w),100%-2px)]", onCommit }: Props) {
  const [typed, setTyped] = useState<string | null>(null);
  const [refused, setRefused] = useState("");
  const why = useId();
  const shown = show(value, parameter, frame);
  const rest = `${shown.digits}\u00a0${shown.unit}`;
  // the text is read from the field: a fast Enter may come before the state that mirrors it is drawn
  const commit = (text: string): boolean => {
    const next = text === rest || text === shown.digits || text.trim() === "" ? value : parse(text, parameter, frame);
    setRefused(typeof next === "string" ? next : "");
    if (typeof next === "string") return false;
    setTyped(null);
    if (next !== value) onCommit(next);
    return true;
  };
  const giveUp = () => {
    setTyped(null);
    setRefused("");
  };
  const keys = (event: React.KeyboardEvent<HTMLInputElement>) => {
    event.stopPropagation();
    const field = event.currentTarget;
    // what is refused stays in the field to be mended
    if (event.key === "Enter" && commit(field.value)) field.blur();
    if (event.key === "Escape") {
      giveUp();
      field.value = rest;
      field.blur();
    }
  };
  return (
    <span data-number className={`relative block h-field-h rounded-token bg-field shadow-[inset_0_0_0_1px_var(--color-line)] group-data-active/fader:shadow-[inset_0_0_0_1.5px_var(--color-mark-line)] ${className}`}>
      <input
        className="size-full rounded-token bg-transparent px-0.5 text-center text-number font-semibold text-ink tabular-nums lining-nums group-data-neutral/fader:font-medium group-data-neutral/fader:text-ink-3"
        aria-label={`${parameter.name}, number`}
        inputMode="decimal"
        value={typed ?? rest}
        onFocus={(event) => {
          const field = event.currentTarget;
          // a press sets the caret after the focus; what was typed meanwhile stays
          requestAnimationFrame(() => field.value === rest && field.select());
        }}
        onChange={(event) => setTyped(event.currentTarget.value)}
        aria-invalid={refused !== ""}
        aria-describedby={refused ? why : undefined}
        onBlur={(event) => {
          if (commit(event.currentTarget.value)) return;
          // left with what cannot be read, it shows what holds, and says why
          setTyped(null);
          setTimeout(() => setRefused(""), SAID_MS);
        }}
        onKeyDown={keys}
      />
      {refused && (
        <span
          id={why}
          role="alert"
          className="absolute top-7 left-0 z-10 w-44 rounded-[3px] border border-edge bg-sheet px-2 py-1 text-left text-[12px] leading-4 font-medium text-ink"
        >
          {refused}
        </span>
      )}
    </span>
  );
}
