/** A button that breaks across lines like the prose it stands in; a real button never does. */

import type { KeyboardEvent, ReactNode } from "react";

type Props = {
  readonly className: string;
  readonly pressed?: boolean;
  /** said and shown on resting, where the words alone don't tell what a press does */
  readonly name?: string;
  readonly onPress: () => void;
  readonly children: ReactNode;
};

export function InlineButton({ className, pressed, name, onPress, children }: Props) {
  const key = (event: KeyboardEvent) => {
    if (event.key !== "Enter" && event.key !== " ") return;
    event.preventDefault();
    event.stopPropagation();
    onPress();
  };
  return (
    <span role="button" tabIndex={0} className={className} aria-pressed={pressed} aria-label={name} title={name} onClick={onPress} onKeyDown={key}>
      {children}
    </span>
  );
}
