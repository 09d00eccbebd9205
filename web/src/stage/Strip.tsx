/** A strip under the stage: its name, what chooses what it shows, a line of help, and the word that closes it. */

import type { ReactNode } from "react";
import { useBench } from "../bench/store";
import { Button } from "../ui/Button";

type Props = {
  readonly label: string;
  readonly name: string;
  readonly choices?: ReactNode;
  readonly says: string;
  readonly children: ReactNode;
};

export function Strip({ label, name, choices, says, children }: Props) {
  return (
    // what stands in it follows the stage, and must never widen it
    <section data-strip className="min-w-0 overflow-hidden border-t border-line bg-bar py-1.5 pr-5 pl-6" aria-label={label}>
      <div className="flex h-6.5 items-baseline gap-4.5 text-label font-medium whitespace-nowrap text-ink-2">
        <b className="font-semibold text-ink">{name}</b>
        {choices}
        <span className="ml-auto overflow-hidden text-ink-3 day:text-ink-2">{says}</span>
        <Button onClick={() => useBench.setState({ panel: "none" })}>close</Button>
      </div>
      {children}
    </section>
  );
}
