/** Painting on the picture: the stroke shows at once, its matte follows from the server. */

import { type PointerEvent, useEffect, useRef, useState } from "react";
import type { Stroke } from "../api/client";
import { useBench } from "../bench/store";
import { useLatest } from "../bench/useLatest";
import { type Brush, endOf, lengthened, pointsAlong, straight, strokeOf } from "../document/strokes";
import type { Point } from "../document/zoom";
import { Line, pathsOf } from "./lines";
import type { Frame } from "./OutlineLines";
import { firstTouch, followPen, type Touch } from "./pen";
import { idOf } from "../bench/keymap";

/** Screen pixels that make a whole fader's way of size, and of hardness, while A is held. */
const SIZE_WAY = 160;
const HARD_WAY = 160;

type Props = {
  readonly frame: Frame;
  readonly brush: Brush;
  /** the stroke before, from whose end Shift draws a straight line */
  readonly last: Stroke | undefined;
  readonly onStroke: (stroke: Stroke, end: boolean) => void;
  readonly onBrush: (brush: Partial<Brush>, end: boolean) => void;
};

export function Brushing({ frame, brush, last, onStroke, onBrush }: Props) {
  const does = useBench((state) => state.does);
  const [stroke, setStroke] = useState<Stroke | null>(null);
  const [at, setAt] = useState<Point | null>(null);
  const held = useHeld("size");
  const now = useLatest({ frame, onBrush });
  const scroll = useRef(0);

  const press = (event: PointerEvent<SVGElement>) => {
    if (event.button !== 0) return;
    if (held.current) {
      resize(event);
      return;
    }
    const touch = firstTouch(event);
    const start = frame.read(touch);
    const from = touch.shift ? endOf(last) : null;
    let drawn = from
      ? straight(strokeOf(brush, does, from.x, from.y, 1), start.x, start.y, 1)
      : strokeOf(brush, does, start.x, start.y, touch.pressure);
    // what stood before the stroke is what stood when it began
    const show = (end: boolean) => {
      setStroke(end ? null : drawn);
      onStroke(drawn, end);
    };
    show(false);
    followPen(event, {
      onMove: (touches) => {
        for (const each of touches) drawn = along(drawn, each, now.current.frame);
        cancelAnimationFrame(scroll.current);
        scroll.current = requestAnimationFrame(() => show(false));
      },
      onEnd: () => {
        cancelAnimationFrame(scroll.current);
        show(true);
      },
    });
  };

  const resize = (event: PointerEvent<SVGElement>) => {
    const from = { x: event.clientX, y: event.clientY };
    const before = brush;
    let made: Partial<Brush> = {};
    followPen(event, {
      onMove: (touches) => {
        const to = touches.at(-1);
        if (!to) return;
        const size = Math.min(Math.max(before.size * 2 ** ((2 * (to.x - from.x)) / SIZE_WAY), 0.001), 1);
        const hardness = Math.min(Math.max(before.hardness + (from.y - to.y) / HARD_WAY, 0), 1);
        made = { size: Number(size.toFixed(4)), hardness: Number(hardness.toFixed(2)) };
        now.current.onBrush(made, false);
      },
      onEnd: () => now.current.onBrush(made, true),
    });
  };

  const radius = (brush.size / 2) * frame.unit;
  return (
    <>
      <rect
        className="paper brush"
        width="100%"
        height="100%"
        onPointerDown={press}
        onPointerMove={(event) => setAt(frame.read({ x: event.clientX, y: event.clientY }))}
        onPointerLeave={() => setAt(null)}
      />
      {stroke && <Trail stroke={stroke} frame={frame} />}
      {at && <Tip at={frame.place(at)} radius={radius} hardness={brush.hardness} takes={does === "erase"} />}
    </>
  );
}

function along(stroke: Stroke, touch: Touch, frame: Frame): Stroke {
  const { x, y } = frame.read(touch);
  return touch.shift ? straight(stroke, x, y, touch.pressure) : lengthened(stroke, x, y, touch.pressure);
}

/** The stroke in hand, as wide as the brush. */
function Trail({ stroke, frame }: { readonly stroke: Stroke; readonly frame: Frame }) {
  const points = pointsAlong(stroke);
  const [first] = points;
  const way = points.length > 1 ? points : first ? [first, { x: first.x + 1e-4, y: first.y }] : [];
  const d = pathsOf([{ points: way, closed: false }], frame.place);
  return (
    <path
      d={d}
      className={`trail${stroke.does === "erase" ? " takes" : ""}`}
      strokeWidth={Math.max(stroke.size * frame.unit, 1)}
      data-trail
    />
  );
}

type TipProps = { readonly at: Point; readonly radius: number; readonly hardness: number; readonly takes: boolean };

/** The brush under the pointer: its rim, how far it is whole, and whether it puts in or takes out. */
function Tip({ at, radius, hardness, takes }: TipProps) {
  const ring = (r: number) => `M${at.x - r} ${at.y}a${r} ${r} 0 1 0 ${2 * r} 0a${r} ${r} 0 1 0 ${-2 * r} 0`;
  const sign = takes ? `M${at.x - 4} ${at.y}h8` : `M${at.x - 4} ${at.y}h8M${at.x} ${at.y - 4}v8`;
  return (
    <g className="pointer-events-none" data-tip={takes ? "erase" : "add"}>
      <Line d={ring(Math.max(radius, 1))} width={1.25} />
      {hardness < 0.97 && radius > 8 && <Line d={ring(radius * hardness)} width={0.75} dash="2 3" />}
      {radius > 8 && <Line d={sign} width={1} />}
    </g>
  );
}

/** Whether the key of something is held down; typing in a field does not count. */
function useHeld(id: string) {
  const held = useRef(false);
  useEffect(() => {
    const set = (down: boolean) => (event: KeyboardEvent) => {
      if (idOf(event.key) === id && !(event.target as HTMLElement).matches("input, textarea, select")) held.current = down;
    };
    const down = set(true);
    const up = set(false);
    const away = () => {
      held.current = false;
    };
    window.addEventListener("keydown", down);
    window.addEventListener("keyup", up);
    window.addEventListener("blur", away);
    return () => {
      window.removeEventListener("keydown", down);
      window.removeEventListener("keyup", up);
      window.removeEventListener("blur", away);
    };
  }, [id]);
  return held;
}
