/** A drag that is computed from where it began, never summed. */

import type { PointerEvent as ReactPointerEvent } from "react";
import { takeBack } from "./saving";
import { useBench } from "./store";
import type { Point } from "../document/zoom";

export type Drag = {
  readonly shift: boolean;
  readonly alt: boolean;
  /** Ctrl, or Cmd: the place snaps to the frame */
  readonly snap: boolean;
  readonly from: Point;
  readonly to: Point;
};

const TWICE_MS = 400;
const TWICE_PX = 6;
let before = { time: Number.NEGATIVE_INFINITY, x: 0, y: 0 };

/** Whether a press is the second of two quick ones at a place; a pointer's press does not count itself. */
export function pressedTwice({ timeStamp: time, clientX: x, clientY: y }: ReactPointerEvent<Element>): boolean {
  const twice = time - before.time < TWICE_MS && Math.hypot(x - before.x, y - before.y) < TWICE_PX;
  before = { time: twice ? Number.NEGATIVE_INFINITY : time, x, y };
  return twice;
}

/** `kept`: false when Escape gave back what stood there before the press. */
type Follow = { readonly onMove: (drag: Drag) => void; readonly onEnd: (kept: boolean) => void };

/** Follows a pointer from its press until it is let go, wherever it goes; Escape ends it and takes all back. */
export function follow(event: ReactPointerEvent<Element>, { onMove, onEnd }: Follow): void {
  event.preventDefault();
  event.stopPropagation();
  const target = event.currentTarget;
  const pointer = event.pointerId;
  const from = { x: event.clientX, y: event.clientY };
  const { sheet } = useBench.getState();
  target.setPointerCapture(pointer);

  const move = (moved: Event) => {
    const at = moved as PointerEvent;
    if (at.pointerId !== pointer) return;
    onMove({ shift: at.shiftKey, alt: at.altKey, snap: at.ctrlKey || at.metaKey, from, to: { x: at.clientX, y: at.clientY } });
  };
  const finish = (kept: boolean) => {
    target.removeEventListener("pointermove", move);
    target.removeEventListener("pointerup", end);
    target.removeEventListener("pointercancel", end);
    window.removeEventListener("keydown", escape, true);
    if (!kept) takeBack(sheet);
    onEnd(kept);
  };
  const end = (ended: Event) => {
    if ((ended as PointerEvent).pointerId === pointer) finish(true);
  };
  const escape = (pressed: KeyboardEvent) => {
    if (pressed.key !== "Escape") return;
    pressed.preventDefault();
    pressed.stopPropagation();
    finish(false);
  };
  target.addEventListener("pointermove", move);
  target.addEventListener("pointerup", end);
  target.addEventListener("pointercancel", end);
  window.addEventListener("keydown", escape, true);
}
