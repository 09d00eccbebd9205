/** The top bar: where one is, and what can be done from here. */

import type { ReactNode } from "react";
import { Link } from "react-router";
import { Logo } from "../marks/marks";

export function Bar({ children }: { readonly children: ReactNode }) {
  return (
    <header className="bar">
      <Link to="/" className="wordmark">
        <Logo />
        Calado
      </Link>
      {children}
    </header>
  );
}
