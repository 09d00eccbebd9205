/** A button that breaks across lines like the prose it stands in; a real button never does. */

import type { KeyboardEvent, ReactNode } from "react";

type Props = {
  readonly className: string;
  /** what it stands for in the sentence */
  readonly token?: "where" | "what" | "side";
  readonly pressed?: boolean;
  /** said and shown on resting, where the words alone don't tell what a press does */
  readonly name?: string;
  readonly onPress: () => void;
  readonly children: ReactNode;
};

/** Frames in which the fader of what is chosen may open; after that it has none. */
const FRAMES = 20;

/** Brings the focus to the fader of what is chosen, or to its first number. */
function toControl(left = FRAMES): void {
  const tray = document.querySelector("[data-tray]");
  const own = tray?.querySelector("[data-parameter][data-active] [type=range]");
  const control = own ?? (left > 0 ? null : tray?.querySelector("[role=slider], input:not([type=radio])"));
  if (control instanceof HTMLElement || control instanceof SVGElement) control.focus();
  else if (left > 0) requestAnimationFrame(() => toControl(left - 1));
}

export function InlineButton({ className, token, pressed, name, onPress, children }: Props) {
  const key = (event: KeyboardEvent) => {
    if (event.key !== "Enter" && event.key !== " ") return;
    event.preventDefault();
    event.stopPropagation();
    onPress();
    // Space only chooses; Enter goes on to the control, which may open only now
    if (event.key === "Enter") requestAnimationFrame(() => requestAnimationFrame(() => toControl()));
  };
  return (
    <span role="button" data-token={token} tabIndex={0} className={className} aria-pressed={pressed} aria-label={name} title={name} onClick={onPress} onKeyDown={key}>
      {children}
    </span>
  );
}
