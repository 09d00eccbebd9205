/** The left part of the tray: what is in hand; wide where it speaks of a region. */

import type { ReactNode } from "react";

const NARROW = "mb-3 w-tray-left pr-4";
const WIDE =
  "-mt-1 mb-1 -ml-1 w-tray-wide overflow-y-auto pt-1 pr-1.5 pl-1 [scrollbar-color:var(--color-edge)_transparent] [scrollbar-width:thin]";

export function TrayLeft({ wide = false, children }: { readonly wide?: boolean; readonly children: ReactNode }) {
  return <div className={`flex-none border-r border-line ${wide ? WIDE : NARROW}`}>{children}</div>;
}
