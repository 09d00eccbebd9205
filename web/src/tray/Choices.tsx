/** A parameter with a few named values, as words. */

import type { Parameter } from "../api/client";

type Props = { readonly parameter: Parameter; readonly value: string; readonly onPick: (value: string) => void };

export function Choices({ parameter, value, onPick }: Props) {
  return (
    <div className="choices" role="radiogroup" aria-label={parameter.name}>
      <span className="label">{parameter.name}</span>
      {parameter.options?.map((option) => (
        <button
          key={option.id}
          type="button"
          role="radio"
          aria-checked={option.id === value}
          onClick={() => onPick(option.id)}
        >
          <span>{option.name}</span>
        </button>
      ))}
    </div>
  );
}
