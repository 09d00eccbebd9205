/** What keys do while a part is drawn. */

import { useEffect } from "react";
import { useLatest } from "./useLatest";

/** Keys while drawing; Escape leaves, as everywhere. */
export function useDrawingKeys(keys: Readonly<Record<string, () => void>>): void {
  const now = useLatest(keys);
  useEffect(() => {
    const down = (event: KeyboardEvent) => {
      const act = now.current[event.key];
      // a button keeps its own keys, but for the word of the kind that is drawn
      const held = (event.target as HTMLElement).matches("input, textarea, select, button:not([aria-checked=true])");
      if (!act || held) return;
      event.preventDefault();
      act();
    };
    window.addEventListener("keydown", down);
    return () => window.removeEventListener("keydown", down);
  }, [now]);
}
