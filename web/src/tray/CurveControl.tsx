/** A curve over the histogram of what it works on: press to add a point, drag to move it, press twice to take it away. */

import { useState } from "react";
import type { Parameter } from "../api/client";
import { useHistogram } from "../bench/measurements";
import { drawn, inserted, moved, without, xOf, yOf } from "../document/curve";
import type { CurvePoints, Value } from "../document/edit";
import { follow } from "../bench/drag";
import type { Of } from "./useAdjustment";
import { Choice } from "../ui/Choice";
import { Button } from "../ui/Button";

const WIDTH = 256;
const HEIGHT = 132;
const CHANNELS: Readonly<Record<string, "luma" | "red" | "green" | "blue">> = { red: "red", green: "green", blue: "blue" };

type Props = Of & {
  readonly values: Readonly<Record<string, Value>>;
  readonly onChange: (id: string, points: CurvePoints, end: boolean) => void;
};

export function CurveControl({ adjustment, pass, values, onChange }: Props) {
  const curves = adjustment.parameters.filter((each) => each.kind === "curve");
  const [chosen, setChosen] = useState(curves[0]?.id ?? "");
  const curve = curves.find((each) => each.id === chosen);
  if (!curve) return null;
  return (
    <div className="flex gap-2 flex-none">
      <Field
        key={curve.id}
        curve={curve}
        pass={pass.id}
        region={pass.region ?? null}
        points={pointsOf(curve, values[curve.id])}
        onChange={(points, end) => onChange(curve.id, points, end)}
      />
      <div className="flex flex-col items-start gap-0.5 px-2 pt-0.5">
        {curves.length > 1 && <Choice label="Channel" look="lines" options={curves} value={chosen} onChange={setChosen} />}
        <Button title="Takes all points of this curve away" onClick={() => onChange(curve.id, [], true)}>
          {curves.length > 1 ? "straighten" : "as usual"}
        </Button>
      </div>
    </div>
  );
}

function pointsOf(curve: Parameter, value: Value | undefined): CurvePoints {
  return Array.isArray(value) && value.length > 0 ? value : (curve.usual ?? []);
}

type FieldProps = {
  readonly curve: Parameter;
  readonly pass: string;
  readonly region: string | null;
  readonly points: CurvePoints;
  readonly onChange: (points: CurvePoints, end: boolean) => void;
};

/** Where a press is in the field, 0…1 each way, y up. */
function at(event: { clientX: number; clientY: number; currentTarget: Element }) {
  const box = event.currentTarget.getBoundingClientRect();
  return { x: (event.clientX - box.left) / box.width, y: 1 - (event.clientY - box.top) / box.height };
}

function Field({ curve, pass, region, points, onChange }: FieldProps) {
  const histogram = useHistogram(region, pass);
  const levels = histogram?.[CHANNELS[curve.id] ?? "luma"] ?? [];
  const drag = (event: React.PointerEvent<SVGElement>, index: number, from: CurvePoints) => {
    const start = from[index];
    let last = from;
    const fresh = from.length !== points.length;
    follow(event, {
      onMove: (way) => {
        const share = way.shift ? 0.1 : 1;
        const dx = ((way.to.x - way.from.x) / WIDTH) * share;
        const dy = ((way.to.y - way.from.y) / HEIGHT) * share;
        last = moved(from, index, xOf(start) + dx, yOf(start) - dy);
        onChange(last, false);
      },
      onEnd: (kept) => kept && (fresh || last !== from) && onChange(last, true),
    });
  };
  const press = (event: React.PointerEvent<SVGSVGElement>) => {
    const { x, y } = at(event);
    const made = inserted(points, x, y);
    if (made) drag(event, made.index, made.points);
  };
  const key = (event: React.KeyboardEvent, index: number) => {
    const point = points[index];
    if (!point) return;
    const step = event.shiftKey ? 0.002 : 0.02;
    const way = { ArrowLeft: [-step, 0], ArrowRight: [step, 0], ArrowUp: [0, step], ArrowDown: [0, -step] }[event.key];
    const gone = event.key === "Delete" || event.key === "Backspace";
    if (!way && !gone) return;
    event.preventDefault();
    event.stopPropagation();
    onChange(way ? moved(points, index, xOf(point) + xOf(way), yOf(point) + yOf(way)) : without(points, index), true);
  };
  return (
    <svg
      className="curve-field bg-field [box-shadow:inset_0_0_0_1px_var(--color-line)] overflow-visible touch-none cursor-crosshair flex-none"
      width={WIDTH}
      height={HEIGHT}
      role="group"
      aria-label={`${curve.name}: press to add a point, press twice to take it away`}
      onPointerDown={press}
    >
      <path d={bars(levels)} data-levels className="[stroke:var(--color-ink-3)] [stroke-width:0.9] opacity-70" />
      <path d={`M0 ${HEIGHT}L${WIDTH} 0`} className="[stroke:var(--color-edge)] [stroke-dasharray:5_4]" />
      <path d={drawn(points, WIDTH, HEIGHT)} className="line" />
      {points.map((point, index) => (
        <circle
          key={xOf(point)}
          cx={xOf(point) * WIDTH}
          cy={(1 - yOf(point)) * HEIGHT}
          r="5"
          tabIndex={0}
          role="slider"
          aria-label={`Point ${index + 1} of ${curve.name}`}
          aria-valuemin={0}
          aria-valuemax={100}
          aria-valuenow={Math.round(yOf(point) * 100)}
          aria-valuetext={`${Math.round(xOf(point) * 100)} % becomes ${Math.round(yOf(point) * 100)} %`}
          onPointerDown={(event) => {
            event.stopPropagation();
            drag(event, index, points);
          }}
          onDoubleClick={() => onChange(without(points, index), true)}
          onKeyDown={(event) => key(event, index)}
        />
      ))}
    </svg>
  );
}

/** The histogram as bars in pairs of levels; its highest fills four fifths, ends aside. */
function bars(levels: readonly number[]): string {
  const most = Math.max(...levels.slice(2, -2), 1e-6);
  let path = "";
  for (let k = 0; k < levels.length; k += 2) {
    const height = Math.min(((levels[k] ?? 0) + (levels[k + 1] ?? 0)) / (2 * most), 1.2) * HEIGHT * 0.8;
    if (height > 0.3) path += `M${(((k + 1) / levels.length) * WIDTH).toFixed(1)} ${HEIGHT}v${(-height).toFixed(1)}`;
  }
  return path;
}
