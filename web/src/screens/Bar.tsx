/** The top bar: where one is, and what can be done from here. */

import type { ReactNode } from "react";
import { Link } from "react-router";
import { Logo } from "../icons/icons";

export function Bar({ children }: { readonly children: ReactNode }) {
  return (
    <header className="col-span-full flex h-bar min-w-0 items-center gap-1 border-b border-line bg-bar px-5 max-[1280px]:gap-0.5 max-[1280px]:px-3">
      <Link to="/" className="mr-4 flex items-center gap-2 font-book text-[17px] leading-6 font-semibold tracking-[0.005em] text-ink max-[1280px]:mr-1.5 max-[1280px]:text-[0px]">
        <Logo />
        Calado
      </Link>
      {children}
    </header>
  );
}

/** A hairline between groups of the bar; where the window is narrow there is no room for it. */
export function Rule() {
  return <span className="mx-1 h-5 w-px bg-line max-[1280px]:hidden" />;
}
