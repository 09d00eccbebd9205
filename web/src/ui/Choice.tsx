/** One of a few, side by side or below each other: Tab reaches the group, arrows move the choice. */

import type { ReactNode } from "react";
import { Radio, RadioGroup } from "react-aria-components";

const WORD =
  "border-b border-edge pt-0.5 pb-px text-label font-medium text-ink hover:bg-token data-selected:border-b-2 data-selected:border-ink data-selected:font-semibold";
const SEGMENT =
  "btn btn-sm join-item flex-1 border-edge bg-transparent px-2 text-ui font-medium text-ink-2 hover:bg-token data-selected:border-ink data-selected:bg-ink data-selected:font-semibold data-selected:text-tray";
const QUIET =
  "inline-flex h-7 items-center rounded-token px-1.5 text-ui font-medium whitespace-nowrap text-ink-2 hover:bg-token data-selected:font-semibold data-selected:text-ink";
const PICK = "pb-0.5 text-ink-2 data-selected:font-semibold data-selected:text-ink data-selected:shadow-[0_2px_0_var(--color-ink)]";
const LINE =
  "group h-6 text-ui leading-6 font-medium whitespace-nowrap text-ink-2 data-selected:font-semibold data-selected:text-ink";

/** How a group looks: words in a line of text, segments of one control, quiet words of a bar, lines below each other,
 * picks of a dialog. */
const LOOKS = {
  words: { group: "flex flex-wrap items-baseline gap-x-2.5 gap-y-0.5", item: WORD },
  segments: { group: "join w-full", item: SEGMENT },
  quiet: { group: "flex", item: QUIET },
  lines: { group: "flex flex-col gap-0.5", item: LINE },
  picks: { group: "flex flex-wrap items-baseline gap-x-4 gap-y-1", item: PICK },
  plain: { group: "", item: "" },
} as const;

type Option<Id extends string> = {
  readonly id: Id;
  readonly name: ReactNode;
  readonly tip?: string | undefined;
  readonly disabled?: boolean;
};

type Props<Id extends string> = {
  readonly label: string;
  /** what stands before the options */
  readonly lead?: ReactNode;
  readonly look?: keyof typeof LOOKS;
  readonly options: readonly Option<Id>[];
  readonly value: Id;
  readonly onChange: (value: Id) => void;
  readonly className?: string;
  readonly itemClass?: string;
  readonly children?: ReactNode;
};

/** Lets go of the keyboard after a press of a pointer, so that the bench's keys and arrows go on working. */
function letGo(): void {
  requestAnimationFrame(() => {
    const { activeElement } = document;
    if (activeElement instanceof HTMLInputElement && activeElement.type === "radio") activeElement.blur();
  });
}

export function Choice<Id extends string>(props: Props<Id>) {
  const { label, lead, look = "words", options, value, onChange, className = "", itemClass = "", children } = props;
  const { group, item } = LOOKS[look];
  return (
    <RadioGroup
      aria-label={label}
      orientation={look === "lines" ? "vertical" : "horizontal"}
      className={`${group} ${className}`}
      value={value}
      onChange={(id) => onChange(id as Id)}
    >
      {lead}
      {options.map(({ id, name, tip, disabled = false }) => (
        <Radio
          key={id}
          value={id}
          isDisabled={disabled}
          onPress={letGo}
          className={`covered relative cursor-default data-disabled:opacity-50 data-focus-visible:outline-2 data-focus-visible:outline-offset-2 data-focus-visible:outline-focus ${item} ${itemClass}`}
        >
          <span title={tip} className={look === "lines" ? "group-data-selected:shadow-[0_2px_0_var(--color-ink)]" : "contents"}>
            {name}
          </span>
        </Radio>
      ))}
      {children}
    </RadioGroup>
  );
}
