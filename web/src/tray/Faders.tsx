/** A row of faders. */

import type { ReactNode } from "react";

// a full group leaves each fader less room; in a window narrower than the design nothing is out of reach
export const FADERS =
  "group/faders flex min-w-0 flex-1 gap-1.25 pl-3 has-[>[data-parameter]:nth-of-type(9)]:gap-0 max-[1280px]:overflow-x-auto max-[1280px]:[scrollbar-width:thin] max-[1280px]:*:shrink-0";

/** Faders across the whole row; a few stand at its left. */
export function Faders({ few, children }: { readonly few: boolean; readonly children: ReactNode }) {
  return <div className={`${FADERS} ${few ? "justify-start gap-3" : "justify-between gap-0"}`}>{children}</div>;
}
