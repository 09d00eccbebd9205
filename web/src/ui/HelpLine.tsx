/** The line of help of what the keyboard has reached: what resting the pointer shows, the focus shows too. */

import { useEffect, useState } from "react";

type Help = { readonly says: string; readonly left: number; readonly top: number; readonly above: boolean };

const WIDTH = 240;
const ROOM = 60;

function helpOf(target: EventTarget | null): Help | null {
  if (!(target instanceof Element) || !target.matches(":focus-visible")) return null;
  // a radio's own input lies over what is drawn for it; a tab's title stands on its word
  const drawn = target.closest("label") ?? target;
  const says =
    drawn.getAttribute("title") ??
    target.querySelector(":scope > title")?.textContent ??
    drawn.querySelector('[title]:not([title=""])')?.getAttribute("title") ??
    "";
  if (!says) return null;
  const box = drawn.getBoundingClientRect();
  const above = box.bottom + ROOM > window.innerHeight;
  return { says, left: Math.min(box.left, window.innerWidth - WIDTH - 8), top: above ? box.top - 8 : box.bottom + 8, above };
}

export function HelpLine() {
  const [help, setHelp] = useState<Help | null>(null);
  useEffect(() => {
    const show = (event: FocusEvent) => setHelp(helpOf(event.target));
    const hide = () => setHelp(null);
    document.addEventListener("focusin", show);
    document.addEventListener("focusout", hide);
    document.addEventListener("pointerdown", hide);
    return () => {
      document.removeEventListener("focusin", show);
      document.removeEventListener("focusout", hide);
      document.removeEventListener("pointerdown", hide);
    };
  }, []);
  if (!help) return null;
  return (
    <div
      // what a screen reader has is the title itself
      aria-hidden
      className={`pointer-events-none fixed z-50 max-w-60 rounded-[3px] border border-edge bg-sheet px-2 py-1 text-[12px] leading-4 text-ink ${help.above ? "-translate-y-full" : ""}`}
      style={{ left: help.left, top: help.top }}
    >
      {help.says}
    </div>
  );
}
