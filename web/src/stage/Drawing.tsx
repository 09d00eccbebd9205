/** Drawing a new part on the picture, from a press to a region; it may begin on the grey around the picture. */

import { type PointerEvent, useEffect, useMemo, useState } from "react";
import type { PartKind } from "../api/client";
import { beginDrawn } from "../bench/begin";
import type { Choice } from "../bench/store";
import { useLatest } from "../bench/useLatest";
import { type Box, boxOutline, drawnBox } from "../document/box";
import { type Corners, placeOf, round } from "../document/corners";
import { drawnGradient, gradientOutline } from "../document/gradient";
import type { Point } from "../document/zoom";
import { type Drag, follow, pressedTwice } from "./drag";
import { Line, pathsOf } from "./lines";
import { type Frame, rounded } from "./OutlineLines";

export type Draw = Extract<Choice, { readonly kind: "draw" }>;
type Props = { readonly draw: Draw; readonly kind: PartKind; readonly frame: Frame };

const LEAST_WAY = 4;
const CLOSE = 12;
/** What the server takes at once. */
const MOST_POINTS = 5000;

export function Drawing(props: Props) {
  switch (props.kind.handles) {
    case "points":
      return <DrawCorners {...props} />;
    case "curve":
      return <DrawFreehand {...props} />;
    default:
      return <DrawShape {...props} />;
  }
}

type Shape = { readonly values: Record<string, number>; readonly d: string };

/** What a drag makes of a kind: values for the sheet, and the line to show meanwhile. */
function shapeOf(kind: PartKind, drag: Drag, frame: Frame): Shape {
  const from = frame.read(drag.from);
  const to = frame.read(drag.to);
  if (kind.handles === "gradient") {
    const values = drawnGradient(from, to, drag.shift);
    const outline = gradientOutline({ ...values, width: 0, sides: "one" });
    const lines = [values.feather_out, 0, -values.feather_in].flatMap((d) => outline.parallel(d));
    return { values: { ...rounded(values) }, d: pathsOf(lines, frame.place) };
  }
  const values = drawnBox(from, to, { square: drag.shift, centred: drag.alt });
  const box: Box = { ...values, turn: 0, feather_in: 0, feather_out: 0, ...(kind.handles === "rectangle" ? { corner: 0 } : {}) };
  return { values: { ...rounded(values) }, d: pathsOf(boxOutline(box).parallel(0), frame.place) };
}

function DrawShape({ draw, kind, frame }: Props) {
  const [shape, setShape] = useState<Shape | null>(null);
  useKeys({ Enter: () => void beginDrawn(draw, {}, []) });
  const press = (event: PointerEvent<SVGElement>) => {
    if (event.button !== 0) return;
    let made: Shape | null = null;
    follow(event, {
      onMove: (drag) => {
        const far = Math.hypot(drag.to.x - drag.from.x, drag.to.y - drag.from.y) >= LEAST_WAY;
        made = far ? shapeOf(kind, drag, frame) : null;
        setShape(made);
      },
      onEnd: () => {
        if (made) void beginDrawn(draw, made.values, []);
      },
    });
  };
  return (
    <>
      <rect className="paper" width="100%" height="100%" onPointerDown={press} />
      {shape && <Line d={shape.d} width={1.75} />}
    </>
  );
}

/** The path of a pen, closed where it is let go; the server follows it by a curve of few points. */
function DrawFreehand({ draw, frame }: Props) {
  const [path, setPath] = useState<readonly Point[]>([]);
  useKeys({ Enter: () => void beginDrawn(draw, {}, []) });
  const press = (event: PointerEvent<SVGElement>) => {
    if (event.button !== 0) return;
    let drawn: readonly Point[] = [frame.read({ x: event.clientX, y: event.clientY })];
    follow(event, {
      onMove: (drag) => {
        // a path too long is kept whole, at half the points
        const kept = drawn.length < MOST_POINTS ? drawn : drawn.filter((_, k) => k % 2 === 0);
        drawn = [...kept, frame.read(drag.to)];
        setPath(drawn);
      },
      onEnd: () => {
        setPath([]);
        if (drawn.length > 3) void beginDrawn(draw, {}, drawn.map(({ x, y }) => [round(x), round(y)]));
      },
    });
  };
  const [first] = path;
  const last = path.at(-1);
  return (
    <>
      <rect className="paper" width="100%" height="100%" onPointerDown={press} />
      {path.length > 1 && <Line d={pathsOf([{ points: path, closed: false }], frame.place)} width={1.75} />}
      {first && last && path.length > 2 && (
        <Line d={pathsOf([{ points: [last, first], closed: false }], frame.place)} width={1} dash="5 4" />
      )}
    </>
  );
}

function DrawCorners({ draw, frame }: Props) {
  const [corners, setCorners] = useState<Corners>([]);
  const [pointer, setPointer] = useState<Point | null>(null);
  const at = (event: PointerEvent<SVGElement>) => frame.read({ x: event.clientX, y: event.clientY });
  const close = () => {
    if (corners.length > 2) void beginDrawn(draw, {}, corners);
    else if (corners.length === 0) void beginDrawn(draw, {}, []);
  };
  useKeys({ Enter: close, Backspace: () => setCorners(corners.slice(0, -1)) });
  const press = (event: PointerEvent<SVGElement>) => {
    if (event.button !== 0) return;
    event.stopPropagation();
    const point = at(event);
    const [first] = corners;
    const home = first && Math.hypot(point.x - placeOf(first).x, point.y - placeOf(first).y) * frame.unit < CLOSE;
    const twice = pressedTwice(event);
    if (corners.length > 2 && (home || twice)) close();
    else if (!home) setCorners([...corners, [round(point.x), round(point.y)]]);
  };
  const points = useMemo(() => corners.map(placeOf), [corners]);
  const drawn = pointer ? [...points, pointer] : points;
  const [first] = points;
  const last = drawn.at(-1);
  return (
    <>
      <rect
        className="paper"
        width="100%"
        height="100%"
        onPointerDown={press}
        onPointerMove={(event) => setPointer(at(event))}
      />
      {drawn.length > 1 && <Line d={pathsOf([{ points: drawn, closed: false }], frame.place)} width={1.75} />}
      {first && last && drawn.length > 2 && (
        <Line d={pathsOf([{ points: [last, first], closed: false }], frame.place)} width={1} dash="5 4" />
      )}
      {points.map((point, k) => (
        // a corner has no name but its place in the outline
        <Corner key={`corner-${k + 1}`} at={frame.place(point)} first={k === 0 && points.length > 2} />
      ))}
    </>
  );
}

function Corner({ at, first }: { readonly at: Point; readonly first: boolean }) {
  return <circle cx={at.x} cy={at.y} r={first ? 7 : 4} className={first ? "corner first" : "corner"} />;
}

/** Keys while drawing; Escape leaves, as everywhere. */
function useKeys(keys: Readonly<Record<string, () => void>>): void {
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
