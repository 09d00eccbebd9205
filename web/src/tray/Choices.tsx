/** A parameter with a few named values, as words; with many, as a list that opens. */

import type { Parameter } from "../api/client";
import { Choice } from "../ui/Choice";
import { Select } from "../ui/Field";

type Props = { readonly parameter: Parameter; readonly value: string; readonly onPick: (value: string) => void };

const MOST_WORDS = 5;

export function Choices({ parameter, value, onPick }: Props) {
  const options = parameter.options ?? [];
  if (options.length > MOST_WORDS) {
    return (
      <label className="flex w-22 flex-none flex-col gap-0.5 px-1 pt-0.5">
        <span className="mb-0.5 text-label font-medium text-ink-3">{parameter.name}</span>
        <Select className="w-full min-w-0 px-2" value={value} onChange={(event) => onPick(event.currentTarget.value)}>
          {options.map((option) => (
            <option key={option.id} value={option.id}>
              {option.name}
            </option>
          ))}
        </Select>
      </label>
    );
  }
  return (
    <Choice
      label={parameter.name}
      look="lines"
      className="min-w-21 px-2 pt-0.5"
      lead={<span className="mb-0.5 text-label font-medium text-ink-3">{parameter.name}</span>}
      options={options}
      value={value}
      onChange={onPick}
    />
  );
}
