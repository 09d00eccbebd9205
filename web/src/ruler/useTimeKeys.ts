/** The keys of time: they are there where the ruler is. */

import { useEffect } from "react";
import { tinykeys } from "tinykeys";
import { idOf } from "../bench/keymap";
import { FOCUSED, typing } from "../bench/keys";
import { togglePlaying } from "../bench/playing";
import { useBench } from "../bench/store";
import { goTo, markRange, stepBy, stepToKey } from "../bench/time";

const CHORDS: Readonly<Record<string, (event: KeyboardEvent) => void>> = {
  "$mod+ArrowLeft": inTime(() => stepBy(-1)),
  "$mod+ArrowRight": inTime(() => stepBy(1)),
  "$mod+Shift+ArrowLeft": inTime(() => stepToKey(-1)),
  "$mod+Shift+ArrowRight": inTime(() => stepToKey(1)),
  Home: inTime(() => goTo(0)),
  End: inTime(() => goTo(Number.MAX_SAFE_INTEGER)),
};

/** Not for what has the focus and takes the key itself. */
function inTime(act: () => void): (event: KeyboardEvent) => void {
  return (event) => {
    if (typing(event) || (event.target as HTMLElement).matches("[role=slider], input[type=range]")) return;
    event.preventDefault();
    act();
  };
}

export function useTimeKeys(): void {
  useEffect(() => {
    const pressed = (event: KeyboardEvent) => {
      if (typing(event) || event.ctrlKey || event.metaKey || event.altKey) return;
      const id = idOf(event.key);
      if (id === "begins") markRange("first");
      if (id === "ends") markRange("last");
    };
    window.addEventListener("keydown", pressed);
    const forget = tinykeys(window, CHORDS);
    return () => {
      window.removeEventListener("keydown", pressed);
      forget();
    };
  }, []);
  usePlayKey();
}

/** A press of Space that is shorter, and during which nothing was dragged, plays or stops. */
const TAP_MS = 400;

function usePlayKey(): void {
  useEffect(() => {
    let since = 0;
    const down = (event: KeyboardEvent) => {
      if (event.key !== " " || event.repeat) return;
      const { frame } = useBench.getState();
      // over the stage Space is the stage's, whatever has the focus
      const taken = (event.target as HTMLElement).matches(FOCUSED) && !document.querySelector(".stage:hover");
      since = frame === null || typing(event) || taken ? 0 : event.timeStamp;
      if (since) event.preventDefault();
    };
    const up = (event: KeyboardEvent) => {
      if (event.key === " " && since && event.timeStamp - since < TAP_MS) togglePlaying();
      since = 0;
    };
    const drop = () => {
      since = 0;
    };
    window.addEventListener("keydown", down, true);
    window.addEventListener("keyup", up, true);
    window.addEventListener("pointerdown", drop, true);
    return () => {
      window.removeEventListener("keydown", down, true);
      window.removeEventListener("keyup", up, true);
      window.removeEventListener("pointerdown", drop, true);
    };
  }, []);
}
