/** The top bar: where one is, and what can be done from here. */

import type { ReactNode } from "react";
import { Link } from "react-router";
import { Logo } from "../marks/marks";

export function Bar({ children }: { readonly children: ReactNode }) {
  return (
    <header className="bar [grid-column:1_/_-1] bg-bar flex items-center py-0 px-5 gap-1 border-b border-line h-bar min-w-0">
      <Link to="/" className="wordmark [font:600_17px/24px_var(--font-book)] [letter-spacing:0.005em] flex items-center gap-2 mr-4 text-ink">
        <Logo />
        Calado
      </Link>
      {children}
    </header>
  );
}
