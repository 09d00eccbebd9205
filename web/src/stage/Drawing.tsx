/** Drawing a new part on the picture, from a press to a region; it may begin on the grey around the picture. */

import { type PointerEvent, useMemo, useState } from "react";
import type { PartKind, Stroke } from "../api/client";
import { beginDrawn, type Draw } from "../bench/begin";
import { beginSampled } from "../bench/sampling";
import { useDrawingKeys } from "../bench/drawingKeys";
import { useLatest } from "../bench/useLatest";
import { type Box, boxOutline, drawnBox } from "../document/box";
import { type Corners, placeOf, round, smoothed } from "../document/corners";
import { drawnGradient, gradientOutline } from "../document/gradient";
import { NO_GUIDES } from "../document/snap";
import { type Brush, pointsAlong } from "../document/strokes";
import type { Point } from "../document/zoom";
import { Brushing } from "./Brushing";
import { type Drag, follow, pressedTwice } from "../bench/drag";
import { Line, pathsOf } from "./lines";
import { showGuides } from "./guides";
import { type Frame, placed, pressed, rounded } from "./OutlineLines";
import { brushOf } from "./Painted";
import { Sampling } from "./Sampling";
import { useAutoScroll } from "./useAutoScroll";


type Props = { readonly draw: Draw; readonly kind: PartKind; readonly frame: Frame };

const LEAST_WAY = 4;
const CLOSE = 12;
/** What the server takes at once. */
const MOST_POINTS = 5000;

export function Drawing(props: Props) {
  useAutoScroll(props.frame, props.kind.drawn === "points");
  switch (props.kind.drawn) {
    case "points":
      return <DrawCorners {...props} />;
    case "path":
      return <DrawCurve {...props} />;
    case "strokes":
      return <DrawStroke {...props} />;
    case "marks":
      return <DrawMarks {...props} />;
    case "sample":
      return <DrawSample {...props} />;
    default:
      return <DrawShape {...props} />;
  }
}

/** What a drag made so far: values for the sheet, or the way of a pen round something; and the line to show. */
type Shape = { readonly values: Record<string, number>; readonly way: readonly Point[] | null; readonly d: string };

/** A way so much longer than the distance of its ends goes round something. */
const ROUND = 2;
/** A shorter way, in stage pixels, is a slip of the hand. */
const LEAST_ROUND = 60;

function lengthOf(path: readonly Point[]): number {
  return path.reduce((sum, point, k) => {
    const before = path[k - 1] ?? point;
    return sum + Math.hypot(point.x - before.x, point.y - before.y);
  }, 0);
}

/** Whether a hand scribbled round a thing instead of drawing from corner to corner. */
function goesRound(path: readonly Point[], unit: number): boolean {
  const [first] = path;
  const last = path.at(-1);
  if (!first || !last) return false;
  const long = lengthOf(path);
  const apart = Math.hypot(last.x - first.x, last.y - first.y);
  return long * unit > LEAST_ROUND && long > ROUND * apart * Math.SQRT2;
}


/** What a drag makes of a kind: values for the sheet, and the line to show meanwhile. */
function shapeOf(kind: PartKind, from: Point, drag: Drag, frame: Frame, path: readonly Point[]): Shape {
  const to = placed(drag, frame);
  if (kind.scribbled && !drag.shift && !drag.alt && goesRound(path, frame.unit)) {
    return { values: {}, way: path, d: pathsOf([{ points: path, closed: true }], frame.place) };
  }
  if (kind.drawn === "axis") {
    const values = drawnGradient(from, to, drag.shift);
    const outline = gradientOutline({ ...values, width: 0, sides: "one" });
    const lines = [values.feather_out, 0, -values.feather_in].flatMap((d) => outline.parallel(d));
    return { values: { ...rounded(values) }, way: null, d: pathsOf(lines, frame.place) };
  }
  const values = drawnBox(from, to, { square: drag.shift, centred: drag.alt });
  const box: Box = { ...values, turn: 0, feather_in: 0, feather_out: 0, ...(kind.parameters.some(({ id }) => id === "roundness") && { roundness: 1 }) };
  return { values: { ...rounded(values) }, way: null, d: pathsOf(boxOutline(box).parallel(0), frame.place) };
}

function DrawShape({ draw, kind, frame }: Props) {
  const [shape, setShape] = useState<Shape | null>(null);
  const now = useLatest(frame);
  const press = (event: PointerEvent<SVGElement>) => {
    if (event.button !== 0) return;
    let made: Shape | null = null;
    const from = pressed(event, frame);
    let path: readonly Point[] = [from];
    follow(event, {
      onMove: (drag) => {
        path = [...path, now.current.read(drag.to)].slice(-MOST_POINTS);
        const far = made !== null || Math.hypot(drag.to.x - drag.from.x, drag.to.y - drag.from.y) >= LEAST_WAY;
        // the view may have scrolled meanwhile
        made = far ? shapeOf(kind, from, drag, now.current, path) : null;
        setShape(made);
      },
      onEnd: (kept) => {
        showGuides(NO_GUIDES);
        setShape(null);
        if (!made || !kept) return;
        const way = made.way?.map(({ x, y }) => [round(x), round(y)]) ?? [];
        void beginDrawn(draw, made.values, way, made.way !== null);
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

/** A first sample begins the part. */
function DrawSample({ draw, frame }: Props) {
  return <Sampling frame={frame} onBox={(box) => void beginSampled(draw, box)} />;
}

/** A brush before its part is there: what is set by hand goes into the part. */
function useFirstBrush(kind: PartKind) {
  const [values, setValues] = useState<Partial<Brush>>({});
  const brush = { ...brushOf(kind, { values: {} }), ...values };
  return { brush, values: values as Record<string, number>, onBrush: (set: Partial<Brush>) => setValues({ ...values, ...set }) };
}

/** The first stroke of a brush begins the part. */
function DrawStroke({ draw, kind, frame }: Props) {
  const { brush, values, onBrush } = useFirstBrush(kind);
  const put = (stroke: Stroke, end: boolean) => end && void beginDrawn(draw, values, [], false, [stroke]);
  return <Brushing frame={frame} brush={brush} last={undefined} onStroke={put} onBrush={onBrush} />;
}

/** A line round the subject is a loose outline; any other is a mark on it, or on the surround. */
function DrawMarks({ draw, kind, frame }: Props) {
  const { brush, values, onBrush } = useFirstBrush(kind);
  const size: Record<string, number> = values.size ? { size: values.size } : {};
  const put = (stroke: Stroke, end: boolean) => {
    if (!end) return;
    const way = pointsAlong(stroke);
    const loose = goesRound(way, frame.unit) && stroke.does === "add";
    void beginDrawn(draw, size, loose ? way.map(({ x, y }) => [x, y]) : [], false, loose ? [] : [stroke]);
  };
  return <Brushing frame={frame} brush={brush} last={undefined} onStroke={put} onBrush={onBrush} />;
}

/**
 * A curve: dragged, the path of a pen, closed where it is let go, which the server follows by few points; or pressed,
 * point by point.
 */
function DrawCurve(props: Props) {
  const [begun, setBegun] = useState<Point | null>(null);
  return begun ? (
    <DrawCorners {...props} smooth begun={[[round(begun.x), round(begun.y)]]} onNone={() => setBegun(null)} />
  ) : (
    <DrawFreehand {...props} onPress={setBegun} />
  );
}

function DrawFreehand({ draw, frame, onPress }: Props & { readonly onPress: (place: Point) => void }) {
  const [path, setPath] = useState<readonly Point[]>([]);
  const now = useLatest(frame);
  useDrawingKeys({ Enter: () => void beginDrawn(draw, {}, []) });
  const press = (event: PointerEvent<SVGElement>) => {
    if (event.button !== 0) return;
    const from = pressed(event, frame);
    let drawn: readonly Point[] = [from];
    follow(event, {
      onMove: (drag) => {
        // a path too long is kept whole, at half the points
        const kept = drawn.length < MOST_POINTS ? drawn : drawn.filter((_, k) => k % 2 === 0);
        // the view may have scrolled meanwhile
        drawn = [...kept, now.current.read(drag.to)];
        setPath(drawn);
      },
      onEnd: (kept) => {
        setPath([]);
        if (kept && drawn.length < 3) onPress(from);
        else if (kept && drawn.length > 3) void beginDrawn(draw, {}, drawn.map(({ x, y }) => [round(x), round(y)]), true);
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

type CornersProps = Props & {
  /** whether a point is smooth; with Alt it is a corner */
  readonly smooth?: boolean;
  readonly begun?: Corners;
  /** the last point was taken back */
  readonly onNone?: () => void;
};

function DrawCorners({ draw, frame, smooth = false, begun = [], onNone }: CornersProps) {
  const [corners, setCorners] = useState(begun);
  const [sharp, setSharp] = useState<ReadonlySet<number>>(new Set());
  const [pointer, setPointer] = useState<Point | null>(null);
  const close = () => {
    if (corners.length > 2) void beginDrawn(draw, {}, smooth ? smoothed(corners, sharp) : corners, false);
    else if (corners.length === 0) void beginDrawn(draw, {}, []);
  };
  const back = () => {
    setCorners(corners.slice(0, -1));
    if (corners.length === 1) onNone?.();
  };
  useDrawingKeys({ Enter: close, Backspace: back });
  const press = (event: PointerEvent<SVGElement>) => {
    if (event.button !== 0) return;
    event.stopPropagation();
    const point = pressed(event, frame);
    showGuides(NO_GUIDES);
    const [first] = corners;
    const home = first && Math.hypot(point.x - placeOf(first).x, point.y - placeOf(first).y) * frame.unit < CLOSE;
    const twice = pressedTwice(event);
    if (corners.length > 2 && (home || twice)) close();
    else if (!home) {
      if (event.altKey) setSharp(new Set([...sharp, corners.length]));
      setCorners([...corners, [round(point.x), round(point.y)]]);
    }
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
        onPointerMove={(event) => setPointer(pressed(event, frame))}
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
