/** A key of the keyboard. */

import type { ReactNode } from "react";

export function Kbd({ children, className = "" }: { readonly children: ReactNode; readonly className?: string }) {
  return <kbd className={`kbd kbd-sm border border-line bg-transparent font-face text-note font-medium text-ink-3 ${className}`}>{children}</kbd>;
}
