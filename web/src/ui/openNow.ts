/** Opens what a word leads to as soon as its code is there: the press that asked for it came before. */

import { type RefObject, useEffect, useRef } from "react";

export function useOpenNow(): RefObject<HTMLButtonElement | null> {
  const word = useRef<HTMLButtonElement>(null);
  useEffect(() => {
    // the focus stood on the word that was pressed, and comes back to this one
    word.current?.focus();
    word.current?.click();
  }, []);
  return word;
}
