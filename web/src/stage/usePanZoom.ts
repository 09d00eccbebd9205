/** Moving about the picture: one pointer pans, or moves the value in hand, two zoom; the wheel zooms to the pointer; Space lets a drag pass the handles. */

import { type PointerEvent, type RefObject, useEffect, useRef, useState } from "react";
import { useBench } from "../bench/store";
import { useLatest } from "../bench/useLatest";
import { fitted, kept, type Point, pinched, type Size, toPicture, type Zoom, zoomedAt } from "../document/zoom";
import { follow, pressedTwice } from "../bench/drag";
import type { Held } from "./valueDrag";

const LEAST_WAY = 3;

type Scene = { readonly zoom: Zoom | null; readonly stage: Size | null; readonly picture: Size };
type Pinch = { readonly zoom: Zoom; readonly from: readonly [Point, Point] };

type Acts = {
  /** what a press without a drag does at a place of the picture; a second quick one zooms there, and back */
  readonly onPress?: (place: Point) => void;
  /** what takes a drag from a place instead of panning */
  readonly onTake?: (place: Point) => Held | null;
};

export function usePanZoom(element: RefObject<HTMLElement | null>, scene: Scene, { onPress, onTake }: Acts = {}) {
  const now = useLatest(scene);
  const [panning, setPanning] = useState(false);
  const touches = useRef(new Map<number, Point>());
  const pinch = useRef<Pinch | null>(null);
  useWheel(element, now);
  const spaced = useSpace(element);

  const onPointerDown = (event: PointerEvent<HTMLElement>) => {
    const { zoom: from, stage, picture } = now.current;
    if (!from || !stage || event.button > 1) return;
    const id = event.pointerId;
    const held = touches.current;
    const pressed = local(element, { x: event.clientX, y: event.clientY });
    held.set(id, pressed);
    let moved = false;
    const twice = pressedTwice(event);
    pinch.current = held.size === 2 ? { zoom: from, from: pair(held) } : null;
    // a finger pans, and so does any pointer while Space is held
    const takes = event.button === 0 && event.pointerType !== "touch" && !spaced;
    const taken = takes ? (onTake?.(toPicture(from, pressed)) ?? null) : null;
    setPanning(taken === null);
    follow(event, {
      onMove: (drag) => {
        held.set(id, local(element, drag.to));
        const two = pinch.current;
        const dx = drag.to.x - drag.from.x;
        const dy = drag.to.y - drag.from.y;
        moved ||= Math.hypot(dx, dy) >= LEAST_WAY;
        if (taken) {
          if (moved) taken.onMove(drag);
        } else if (two) useBench.setState({ zoom: kept(pinched(two.zoom, two.from, pair(held)), stage, picture) });
        else if (held.size === 1 && Math.hypot(dx, dy) >= LEAST_WAY) {
          useBench.setState({ zoom: kept({ ...from, x: from.x + dx, y: from.y + dy }, stage, picture) });
        }
      },
      onEnd: (ended) => {
        taken?.onEnd(ended);
        if (ended && !moved && event.button === 0 && held.size === 1) {
          if (twice) useBench.setState({ zoom: closer(from, stage, picture, pressed) });
          else onPress?.(toPicture(from, pressed));
        }
        // the finger that stays does not pan on from where it began
        if (pinch.current) held.clear();
        held.delete(id);
        pinch.current = null;
        setPanning(false);
      },
    });
  };
  return { panning, spaced, onPointerDown };
}

/** One to one at a place; from there back to the whole. */
function closer(from: Zoom, stage: Size, picture: Size, at: Point): Zoom | null {
  const near = from.scale < 0.99 * Math.max(1, fitted(stage, picture).scale);
  return near ? kept(zoomedAt(from, 1 / from.scale, at), stage, picture) : null;
}

function local(element: RefObject<HTMLElement | null>, at: Point): Point {
  const box = element.current?.getBoundingClientRect() ?? new DOMRect();
  return { x: at.x - box.left, y: at.y - box.top };
}

function pair(held: ReadonlyMap<number, Point>): readonly [Point, Point] {
  const [a = { x: 0, y: 0 }, b = a] = [...held.values()];
  return [a, b];
}

function useWheel(element: RefObject<HTMLElement | null>, now: RefObject<Scene>) {
  useEffect(() => {
    const target = element.current;
    if (!target) return;
    // a passive listener could not keep the page from zooming
    const wheel = (event: WheelEvent) => {
      event.preventDefault();
      const { zoom, stage, picture } = now.current;
      if (!zoom || !stage) return;
      const at = local(element, { x: event.clientX, y: event.clientY });
      useBench.setState({ zoom: kept(zoomedAt(zoom, Math.exp(-event.deltaY / 400), at), stage, picture) });
    };
    target.addEventListener("wheel", wheel, { passive: false });
    return () => target.removeEventListener("wheel", wheel);
  }, [element, now]);
}

/** Whether Space is held over the stage; there it is not for the button that has the focus. */
function useSpace(element: RefObject<HTMLElement | null>): boolean {
  const [spaced, setSpaced] = useState(false);
  useEffect(() => {
    const set = (down: boolean) => (event: KeyboardEvent) => {
      if (event.key !== " ") return;
      if (!down) setSpaced(false);
      const typing = (event.target as HTMLElement).matches("input, select, textarea");
      if (typing || !element.current?.matches(":hover")) return;
      event.preventDefault();
      event.stopPropagation();
      if (down) setSpaced(true);
    };
    const down = set(true);
    const up = set(false);
    const away = () => setSpaced(false);
    window.addEventListener("keydown", down, true);
    window.addEventListener("keyup", up, true);
    window.addEventListener("blur", away);
    return () => {
      window.removeEventListener("keydown", down, true);
      window.removeEventListener("keyup", up, true);
      window.removeEventListener("blur", away);
    };
  }, [element]);
  return spaced;
}
