/** Lines and beads over the picture: a light thread in a dark casing holds on anything. */

import type { KeyboardEvent, PointerEvent, ReactNode } from "react";
import type { Path } from "../document/outline";
import type { Point } from "../document/zoom";

const THREAD = "oklch(.97 0 0)";
const CASING = "oklch(.12 0 0 / .58)";
const HIT = 12;

export function pathsOf(paths: readonly Path[], place: (point: Point) => Point): string {
  return paths.map((path) => pathOf(path.points.map(place), path.closed)).join("");
}

function pathOf(points: readonly Point[], closed: boolean): string {
  if (points.length < 2) return "";
  return `M${points.map((p) => `${p.x.toFixed(1)} ${p.y.toFixed(1)}`).join("L")}${closed ? "Z" : ""}`;
}

/** A straight line between two points of the stage. */
export function stem(from: Point, to: Point): string {
  return pathOf([from, to], false);
}

type LineProps = { readonly d: string; readonly width: number; readonly dash?: string; readonly strength?: number };

export function Line({ d, width, dash, strength = 1 }: LineProps) {
  return (
    <>
      <path d={d} fill="none" stroke={CASING} strokeWidth={width + 2} />
      <path d={d} fill="none" stroke={THREAD} strokeOpacity={strength} strokeWidth={width} strokeDasharray={dash} />
    </>
  );
}

type BeadProps = {
  readonly at: Point;
  readonly name: string;
  readonly cursor: string;
  readonly grip: Grip;
  readonly children: ReactNode;
};

/** How a bead is taken: by a pointer from its press on; by arrows, from where it stands in the window; by Enter or Delete. */
export type Grip = {
  readonly onPress: (event: PointerEvent<SVGElement>) => void;
  readonly onNudge?: (from: Point, way: Point) => void;
  readonly onEnter?: () => void;
  readonly onDelete?: () => void;
};

const FAR = 10;
const ARROWS: Readonly<Record<string, readonly [number, number]>> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

const byKeys = ({ onNudge, onEnter, onDelete }: Grip) => (event: KeyboardEvent<SVGElement>) => {
  const nudge = (x: number, y: number) => () => {
    const box = event.currentTarget.getBoundingClientRect();
    const by = event.shiftKey ? FAR : 1;
    onNudge?.({ x: box.x + box.width / 2, y: box.y + box.height / 2 }, { x: x * by, y: y * by });
  };
  const way = onNudge && ARROWS[event.key];
  const act = way ? nudge(...way) : { Enter: onEnter, Delete: onDelete }[event.key];
  if (!act) return;
  event.preventDefault();
  // else the whole region would go too
  event.stopPropagation();
  act();
};

/** What can be taken, by pointer or by arrows: drawn by its children, 24 px wide to the pointer, 32 to the finger. */
export function Bead({ at, name, cursor, grip, children }: BeadProps) {
  return (
    <g transform={`translate(${at.x.toFixed(2)} ${at.y.toFixed(2)})`}>
      {children}
      <circle
        className="grab [pointer-events:all] [fill:transparent] [stroke:none] focus-visible:outline-none focus-visible:[stroke:oklch(0.97_0_0)] focus-visible:[stroke-width:2] focus-visible:[paint-order:stroke]"
        r={HIT}
        style={{ cursor }}
        data-handle={name}
        role="button"
        aria-roledescription="handle"
        aria-label={name}
        tabIndex={0}
        onPointerDown={grip.onPress}
        onKeyDown={byKeys(grip)}
      >
        <title>{name}</title>
      </circle>
    </g>
  );
}

export function EdgeMark() {
  return (
    <>
      <circle r="6" fill="oklch(.12 0 0 / .7)" />
      <circle r="4.25" fill={THREAD} />
    </>
  );
}

/** The end of a Bézier handle. */
export function HandleMark() {
  return (
    <>
      <rect x="-4.5" y="-4.5" width="9" height="9" fill="oklch(.12 0 0 / .7)" />
      <rect x="-3" y="-3" width="6" height="6" fill={THREAD} />
    </>
  );
}

/** A corner that is not there yet. */
export function NewMark() {
  return (
    <>
      <circle r="5" fill="oklch(.12 0 0 / .55)" />
      <circle r="3.25" fill="none" stroke={THREAD} strokeOpacity="0.85" strokeWidth="1.25" />
    </>
  );
}

export function CentreMark() {
  return (
    <>
      <circle r="8.5" fill="oklch(.12 0 0 / .7)" />
      <circle r="6" fill="oklch(.86 .135 121)" stroke={THREAD} strokeWidth="1.5" />
      <circle r="1.75" fill="oklch(.12 0 0)" />
    </>
  );
}

function arc(s: number): string {
  const from = { x: 10 * Math.cos(s * 0.5), y: 10 * Math.sin(s * 0.5) };
  const to = { x: 10 * Math.cos(s * 1.5), y: 10 * Math.sin(s * 1.5) };
  return `M${from.x} ${from.y}A10 10 0 0 ${s > 0 ? 1 : 0} ${to.x} ${to.y}`;
}

export function TurnMark({ angle }: { readonly angle: number }) {
  const d = arc(1) + arc(-1);
  return (
    <g transform={`rotate(${angle})`}>
      <circle r="6.5" fill="oklch(.12 0 0 / .7)" />
      <circle r="4.5" fill="oklch(.12 0 0 / .9)" stroke={THREAD} strokeWidth="1.5" />
      <path d={d} fill="none" stroke={CASING} strokeWidth="3.5" />
      <path d={d} fill="none" stroke={THREAD} strokeWidth="1.5" />
    </g>
  );
}

export function FeatherMark() {
  return (
    <g transform="rotate(45)">
      <rect x="-5" y="-5" width="10" height="10" fill="oklch(.12 0 0 / .7)" />
      <rect x="-3.25" y="-3.25" width="6.5" height="6.5" fill="oklch(.12 0 0)" stroke={THREAD} strokeWidth="1.5" />
    </g>
  );
}

export function Chip({ at, text }: { readonly at: Point; readonly text: string }) {
  const width = text.length > 3 ? 36 : 31;
  return (
    <g transform={`translate(${at.x} ${at.y})`}>
      <rect x={-width / 2} y="-8" width={width} height="16" rx="2" fill="oklch(.12 0 0 / .78)" />
      <text y="4" textAnchor="middle" fill={THREAD} className="text-note font-semibold">
        {text}
      </text>
    </g>
  );
}
