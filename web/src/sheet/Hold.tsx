/** A word that acts for as long as it is held, by pointer or by key. */

import type { KeyboardEvent } from "react";

type Props = {
  readonly className: string;
  readonly on: boolean;
  readonly title: string;
  readonly onHold: (held: boolean) => void;
  readonly children: string;
};

export function Hold({ className, on, title, onHold, children }: Props) {
  const key = (held: boolean) => (event: KeyboardEvent) => {
    if (event.key !== "Enter" && event.key !== " ") return;
    event.preventDefault();
    onHold(held);
  };
  return (
    <button
      type="button"
      className={className}
      aria-pressed={on}
      title={title}
      onPointerDown={() => onHold(true)}
      onPointerUp={() => onHold(false)}
      onPointerLeave={() => onHold(false)}
      onPointerCancel={() => onHold(false)}
      onKeyDown={key(true)}
      onKeyUp={key(false)}
      onBlur={() => onHold(false)}
    >
      {children}
    </button>
  );
}
