/** A drag up or down on the picture, which moves the value in hand as its fader does, only finer. */

import type { Catalogue } from "../api/client";
import { change } from "../bench/saving";
import { useBench } from "../bench/store";
import { clamp, type Frame, placeOf, valueAt } from "../document/numbers";
import { valueInHand } from "../tray/inHand";
import type { Drag } from "../bench/drag";

/** So many pixels up go from one end of the fader to the other; with Shift ten times as many. */
const WHOLE = 480;
const FINE = 0.1;

/** What takes a drag from here on, or null when nothing is in hand that has an amount. */
export type Held = { readonly onMove: (drag: Drag) => void; readonly onEnd: (kept: boolean) => void };

export function holdValue(catalogue: Catalogue, frame: Frame): Held | null {
  const { sheet, selection: choice } = useBench.getState();
  const held = valueInHand(sheet, choice, catalogue);
  if (!held) return null;
  const { parameter, label, put } = held;
  const from = placeOf(held.value, parameter, frame);
  let last: number | null = null;
  return {
    onMove: (drag) => {
      const way = (drag.from.y - drag.to.y) / WHOLE;
      last = clamp(valueAt(from + way * (drag.shift ? FINE : 1), parameter, frame, drag.shift), parameter.floor, parameter.ceiling);
      change(put(last), label, false);
    },
    onEnd: (kept) => {
      if (last !== null && kept) change(put(last), label);
    },
  };
}
