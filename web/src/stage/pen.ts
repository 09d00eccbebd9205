/** Following a pen with its pressure; a mouse presses fully. */

import type { PointerEvent as ReactPointerEvent } from "react";

export type Touch = { readonly x: number; readonly y: number; readonly pressure: number; readonly shift: boolean };
type Follow = { readonly onMove: (touches: readonly Touch[]) => void; readonly onEnd: (cancelled: boolean) => void };

function touchOf(event: PointerEvent): Touch {
  const pressure = event.pointerType === "pen" ? event.pressure : 1;
  return { x: event.clientX, y: event.clientY, pressure, shift: event.shiftKey };
}

export function firstTouch(event: ReactPointerEvent<Element>): Touch {
  return touchOf(event.nativeEvent);
}

/** Follows every place that the pen was at, also between two frames. */
export function followPen(event: ReactPointerEvent<Element>, { onMove, onEnd }: Follow): void {
  event.preventDefault();
  event.stopPropagation();
  const target = event.currentTarget;
  const pointer = event.pointerId;
  target.setPointerCapture(pointer);
  const move = (moved: Event) => {
    const at = moved as PointerEvent;
    if (at.pointerId !== pointer) return;
    const between = at.getCoalescedEvents?.() ?? [];
    onMove((between.length > 0 ? between : [at]).map(touchOf));
  };
  const end = (ended: Event) => {
    if ((ended as PointerEvent).pointerId !== pointer) return;
    target.removeEventListener("pointermove", move);
    target.removeEventListener("pointerup", end);
    target.removeEventListener("pointercancel", end);
    onEnd(ended.type === "pointercancel");
  };
  target.addEventListener("pointermove", move);
  target.addEventListener("pointerup", end);
  target.addEventListener("pointercancel", end);
}
