/** What opens under a word of the bar and closes by Escape or a press beside it. */
import { useOpenNow } from "./openNow";
import { LOOKS } from "./Button";

import type { ReactNode } from "react";
import { Button as AriaButton, Dialog, DialogTrigger, Popover } from "react-aria-components";

export type UnderProps = {
  readonly name: ReactNode;
  readonly label: string;
  readonly className: string;
  readonly children: (close: () => void) => ReactNode;
};

export function UnderOpen({ name, label, className, children }: UnderProps) {
  const word = useOpenNow();
  return (
    <DialogTrigger>
      <AriaButton ref={word} className={LOOKS.quiet}>{name}</AriaButton>
      <Popover offset={6} placement="bottom end" isNonModal className={`rounded-token border border-edge bg-sheet text-ink-2 ${className}`}>
        <Dialog aria-label={label} className="outline-none">
          {({ close }) => children(close)}
        </Dialog>
      </Popover>
    </DialogTrigger>
  );
}
