/** A button that acts for as long as it is held, by pointer or by key. */

import { usePress } from "react-aria";
import { Button, type Look } from "./Button";

type Props = {
  readonly look?: Look;
  readonly on: boolean;
  readonly title: string;
  readonly onHold: (held: boolean) => void;
  readonly children: string;
};

export function HoldButton({ look = "word", on, title, onHold, children }: Props) {
  const { pressProps } = usePress({ onPressStart: () => onHold(true), onPressEnd: () => onHold(false) });
  return (
    <Button {...pressProps} look={look} aria-pressed={on} title={title}>
      {children}
    </Button>
  );
}
