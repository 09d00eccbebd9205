/** A parameter with a few named values, as words; with many, as a list that opens. */

import type { Parameter } from "../api/client";

type Props = { readonly parameter: Parameter; readonly value: string; readonly onPick: (value: string) => void };

const MOST_WORDS = 5;

export function Choices({ parameter, value, onPick }: Props) {
  const options = parameter.options ?? [];
  if (options.length > MOST_WORDS) {
    return (
      <label className="choices">
        <span className="label">{parameter.name}</span>
        <select className="select select-sm text-field" value={value} onChange={(event) => onPick(event.currentTarget.value)}>
          {options.map((option) => (
            <option key={option.id} value={option.id}>
              {option.name}
            </option>
          ))}
        </select>
      </label>
    );
  }
  return (
    <div className="choices" role="radiogroup" aria-label={parameter.name}>
      <span className="label">{parameter.name}</span>
      {options.map((option) => (
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
