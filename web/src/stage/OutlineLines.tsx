/** What every outline shows: itself, its contours, the feather's two dashed lines, and the grips that move them. */

import type { PointerEvent } from "react";
import { contourDistances, type Feathers, gripShare, middle, type Outline, turnOf } from "../document/outline";
import type { Point } from "../document/zoom";
import { NO_GUIDES, snapped } from "../document/snap";
import { type Drag, follow } from "../bench/drag";
import { showGuides } from "./guides";
import { Bead, Chip, FeatherMark, type Grip, Line, pathsOf } from "./lines";

const CHIP_SHARE = 320 / 360;
const LEAST_GRIP = 12;
const MOST_FEATHER = 4;

export type Frame = {
  /** picture heights → stage pixels */
  readonly place: (point: Point) => Point;
  /** browser's client pixels → picture heights */
  readonly read: (point: Point) => Point;
  /** whether a point in picture heights can be taken: it lies on the stage, clear of its border */
  readonly inView: (point: Point) => boolean;
  /** stage pixels per picture height */
  readonly unit: number;
  /** width of the picture in picture heights */
  readonly aspect: number;
};

/** What handles change; every gesture ends once. */
export type Changing<Fields> = {
  readonly onChange: (fields: Fields) => void;
  readonly onChangeEnd: () => void;
};

/** A grip that follows the pointer, or goes by arrows, and changes by what `to` makes of it. */
export function dragger<Fields>({ onChange, onChangeEnd }: Changing<Fields>) {
  return (to: (drag: Drag) => Fields): Grip => ({
    onPress: (event) =>
      follow(event, {
        onMove: (each) => onChange(to(each)),
        onEnd: () => {
          showGuides(NO_GUIDES);
          onChangeEnd();
        },
      }),
    onNudge: (from, by) => {
      onChange(to({ shift: false, alt: false, snap: false, from, to: { x: from.x + by.x, y: from.y + by.y } }));
      onChangeEnd();
    },
  });
}

/** The same grip, which arrows turn by degrees: right and down one way, left and up the other. */
export function turning(grip: Grip, turn: number, { onChange, onChangeEnd }: Changing<{ readonly turn: number }>): Grip {
  return {
    ...grip,
    onNudge: (_, by) => {
      onChange({ turn: turnOf(turn + by.x + by.y, false) });
      onChangeEnd();
    },
  };
}

/** Nearer than this, in stage pixels, a place snaps. */
const SNAP = 10;

/** How far places must still go to lie on the frame's lines, while the snapping key is held. */
function snapWay(drag: Drag, frame: Frame, places: readonly Point[]): Point {
  if (!drag.snap) {
    showGuides(NO_GUIDES);
    return { x: 0, y: 0 };
  }
  const { by, guides } = snapped(places, frame.aspect, SNAP / frame.unit);
  showGuides(guides);
  return by;
}

/** Where a drag is, in picture heights; with Ctrl held on a line of the frame that is near. */
export function placed(drag: Drag, frame: Frame): Point {
  const at = frame.read(drag.to);
  const by = snapWay(drag, frame, [at]);
  return { x: at.x + by.x, y: at.y + by.y };
}

/** Where a press is, in picture heights; with Ctrl held on a line of the frame that is near. */
export function pressed(event: PointerEvent<Element>, frame: Frame): Point {
  const at = { x: event.clientX, y: event.clientY };
  return placed({ shift: false, alt: false, snap: event.ctrlKey || event.metaKey, from: at, to: at }, frame);
}

export function rounded<Fields extends object>(fields: Fields): Fields {
  const entries = Object.entries(fields).map(([id, value]) => [id, typeof value === "number" ? Number(value.toFixed(5)) : value]);
  return Object.fromEntries(entries) as Fields;
}

/**
 * How far a drag moves something, in picture heights. Shift keeps to one direction, as a ruler does; with Ctrl held,
 * one of the thing's `places` snaps to a line of the frame that is near.
 */
export function way(drag: Drag, frame: Frame, places: readonly Point[]): Point {
  const dx = (drag.to.x - drag.from.x) / frame.unit;
  const dy = (drag.to.y - drag.from.y) / frame.unit;
  const along = Math.abs(dx) > Math.abs(dy);
  const kept = { x: drag.shift && !along ? 0 : dx, y: drag.shift && along ? 0 : dy };
  const by = snapWay(drag, frame, places.map((place) => ({ x: place.x + kept.x, y: place.y + kept.y })));
  return { x: kept.x + by.x, y: kept.y + by.y };
}

type LinesProps = {
  readonly outline: Outline;
  readonly soft: Feathers;
  readonly profile: string;
  readonly frame: Frame;
};

export function OutlineLines({ outline, soft, profile, frame }: LinesProps) {
  const line = (d: number) => pathsOf(outline.parallel(d), frame.place);
  const [low, half, high] = contourDistances(soft, profile);
  const seen = (soft.feather_in + soft.feather_out) * frame.unit > 6;
  const chips: readonly (readonly [number, string])[] = [
    [low, "5 %"],
    [half, "50 %"],
    [high, "95 %"],
  ];
  const room = ((low - high) * frame.unit) / 2 > 22;
  return (
    <>
      {soft.feather_out > 0 && <Line d={line(soft.feather_out)} width={1} dash="5 4" strength={0.95} />}
      {soft.feather_in > 0 && <Line d={line(-soft.feather_in)} width={1} dash="5 4" strength={0.95} />}
      {seen && <Line d={line(low)} width={0.75} strength={0.8} />}
      {seen && <Line d={line(high)} width={0.75} strength={0.8} />}
      <Line d={line(half)} width={1.75} />
      {room && chips.map(([d, text]) => <Chip key={text} at={frame.place(outline.beside(d, CHIP_SHARE))} text={text} />)}
    </>
  );
}

type GripProps = {
  readonly outline: Outline;
  readonly soft: Feathers;
  readonly frame: Frame;
  readonly changing: Changing<Partial<Feathers>>;
};

function within(feather: number): number {
  return Number(Math.min(Math.max(feather, 0), MOST_FEATHER).toFixed(5));
}

/** The dashed lines can be taken anywhere along their way, and by a grip each. */
export function FeatherGrips({ outline, soft, frame, changing }: GripProps) {
  const drag = dragger(changing);
  const least = LEAST_GRIP / frame.unit;
  const sides = [
    {
      name: "Feather out",
      d: Math.max(soft.feather_out, least),
      grip: drag((d) => ({ feather_out: within(outline.distance(frame.read(d.to))) })),
    },
    {
      name: "Feather in",
      d: -Math.max(soft.feather_in, least),
      grip: drag((d) => ({ feather_in: within(-outline.distance(frame.read(d.to))) })),
    },
  ];
  return sides.map(({ name, d, grip }) => (
    <g key={name}>
      <path className="grab-line [pointer-events:stroke] [fill:none] [stroke:transparent] [stroke-width:12] cursor-grab" d={pathsOf(outline.parallel(d), frame.place)} onPointerDown={grip.onPress} />
      <Bead at={frame.place(outline.beside(d, gripShare(outline, d, frame.inView)))} name={name} cursor="grab" grip={grip}>
        <FeatherMark />
      </Bead>
    </g>
  ));
}

type QuietProps = { readonly outline: Outline; readonly soft: Feathers; readonly frame: Frame };

/** Just the 50 % line: other parts of the region, or a pass whose value is in hand. */
export function QuietOutline({ outline, soft, frame }: QuietProps) {
  return (
    <g opacity={0.6}>
      <Line d={pathsOf(outline.parallel(middle(soft)), frame.place)} width={1} />
    </g>
  );
}
