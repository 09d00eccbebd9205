/** While something is drawn on a picture larger than the stage, the view scrolls when the pen nears its border. */

import { useEffect } from "react";
import { useBench } from "../bench/store";
import { useLatest } from "../bench/useLatest";
import type { Point, Size, Zoom } from "../document/zoom";
import type { Frame } from "./OutlineLines";

const BORDER = 28;
/** Stage pixels per second, with the pen at the very border. */
const SPEED = 700;
/** After a scroll the next frame comes so much later at most: a tab that slept must not leap. */
const LONGEST_MS = 60;

/** How fast the view must go, −1 … 1, where the pen stands on one axis. */
function pull(at: number, size: number): number {
  if (at < BORDER) return Math.min((BORDER - at) / BORDER, 1);
  return at > size - BORDER ? -Math.min((at - size + BORDER) / BORDER, 1) : 0;
}

/** Scrolls on one axis as far as there is picture to come. */
function scrolled(from: number, by: number, size: number, extent: number): number {
  const last = size - extent;
  if (by > 0) return from >= 0 ? from : Math.min(from + by, 0);
  return from <= last ? from : Math.max(from + by, last);
}

function step(pen: Point, ms: number, frame: Frame): boolean {
  const { zoom, stage } = useBench.getState();
  if (!zoom || !stage) return false;
  const extent = { width: frame.unit * frame.aspect, height: frame.unit };
  const next = moved(zoom, stage, extent, { x: pull(pen.x, stage.width), y: pull(pen.y, stage.height) }, ms);
  if (next.x === zoom.x && next.y === zoom.y) return false;
  useBench.setState({ zoom: next });
  return true;
}

function moved(zoom: Zoom, stage: Size, extent: Size, way: Point, ms: number): Zoom {
  const by = (SPEED * ms) / 1000;
  return {
    scale: zoom.scale,
    x: way.x === 0 ? zoom.x : scrolled(zoom.x, way.x * by, stage.width, extent.width),
    y: way.y === 0 ? zoom.y : scrolled(zoom.y, way.y * by, stage.height, extent.height),
  };
}

/** `open`: an outline is drawn press by press, so the view scrolls also while nothing is pressed. */
export function useAutoScroll(frame: Frame, open: boolean): void {
  const now = useLatest(frame);
  useEffect(() => {
    let next = 0;
    let before = 0;
    let pen: PointerEvent | null = null;
    const go = (time: number) => {
      const stage = document.querySelector(".stage.result")?.getBoundingClientRect();
      if (!pen || !stage) return;
      const ms = Math.min(time - before, LONGEST_MS);
      before = time;
      if (!step({ x: pen.clientX - stage.left, y: pen.clientY - stage.top }, ms, now.current)) {
        next = 0;
        return;
      }
      // what is drawn goes on under the pen that stands still
      pen.target?.dispatchEvent(new PointerEvent("pointermove", pen));
      next = requestAnimationFrame(go);
    };
    const move = (event: PointerEvent) => {
      if (!event.isTrusted) return;
      pen = open || event.buttons > 0 ? event : null;
      const over = (event.target as Element).closest?.(".stage.result");
      if (!pen || !over || next) return;
      before = performance.now();
      next = requestAnimationFrame(go);
    };
    window.addEventListener("pointermove", move);
    return () => {
      window.removeEventListener("pointermove", move);
      cancelAnimationFrame(next);
    };
  }, [open, now]);
}
