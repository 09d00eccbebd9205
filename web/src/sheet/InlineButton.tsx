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

/** Brings the focus to the fader of what is chosen, or to its first number. */
function toControl(): void {
  const tray = document.querySelector(".tray");
  const control = tray?.querySelector(".fader.active [role=slider]") ?? tray?.querySelector("[role=slider], input");
  if (control instanceof HTMLElement || control instanceof SVGElement) control.focus();
}

export function InlineButton({ className, pressed, name, onPress, children }: Props) {
  const key = (event: KeyboardEvent) => {
    if (event.key !== "Enter" && event.key !== " ") return;
    event.preventDefault();
    event.stopPropagation();
    onPress();
    // Space only chooses; Enter goes on to the control, which may open only now
    if (event.key === "Enter") requestAnimationFrame(() => requestAnimationFrame(toControl));
  };
  return (
    <span role="button" tabIndex={0} className={className} aria-pressed={pressed} aria-label={name} title={name} onClick={onPress} onKeyDown={key}>
      {children}
    </span>
  );
}
