/** A ring of hues: each bead's way out or in from the ring is the weight of its hue; beside it, their numbers. */

import type { Parameter } from "../api/client";
import type { Value } from "../document/edit";
import { clamp, type Frame } from "../document/numbers";
import { follow } from "../bench/drag";
import { NumberField } from "./NumberField";

const SIDE = 144;
const MIDDLE = SIDE / 2;
/** where a weight of nothing lies, and how far from there a whole one does */
const RING = 42;
const REACH = 24;
const FIRST_HUE = 25;
const FINE = 0.1;

type Props = {
  /** what the weights are of: grey, saturation … */
  readonly of: string;
  /** one a hue, in their order round the circle */
  readonly hues: readonly Parameter[];
  readonly values: Readonly<Record<string, Value>>;
  readonly frame: Frame;
  readonly onChange: (values: Record<string, Value>, end: boolean) => void;
};

export function HueRing({ of, hues, values, frame, onChange }: Props) {
  const weight = (id: string) => Number(values[id] ?? 0);
  const degrees = (k: number) => FIRST_HUE + (360 * k) / hues.length;
  const way = (k: number) => {
    const turn = (degrees(k) * Math.PI) / 180;
    return { x: Math.cos(turn), y: -Math.sin(turn) };
  };
  const at = (k: number, w: number) => {
    const far = RING + REACH * clamp(w, -1.5, 1.2);
    return { x: MIDDLE + way(k).x * far, y: MIDDLE + way(k).y * far };
  };
  const put = (parameter: Parameter, next: number, end: boolean) =>
    onChange({ [parameter.id]: Number(clamp(next, parameter.floor, parameter.ceiling).toFixed(3)) }, end);
  const drag = (event: React.PointerEvent<SVGElement>, parameter: Parameter, k: number) => {
    const from = weight(parameter.id);
    let last = from;
    follow(event, {
      onMove: ({ from: a, to: b, shift }) => {
        last = from + (((b.x - a.x) * way(k).x + (b.y - a.y) * way(k).y) / REACH) * (shift ? FINE : 1);
        put(parameter, last, false);
      },
      onEnd: (kept) => kept && last !== from && put(parameter, last, true),
    });
  };
  const key = (event: React.KeyboardEvent, parameter: Parameter) => {
    const step = event.shiftKey ? 0.01 : 0.05;
    const by = { ArrowUp: step, ArrowRight: step, ArrowDown: -step, ArrowLeft: -step }[event.key];
    if (by === undefined && event.key !== "Backspace") return;
    event.preventDefault();
    event.stopPropagation();
    put(parameter, by === undefined ? 0 : weight(parameter.id) + by, true);
  };
  const line = hues.map((each, k) => at(k, weight(each.id))).map(({ x, y }) => `${x.toFixed(1)} ${y.toFixed(1)}`);
  return (
    <>
      <svg width={SIDE} height={SIDE} className="mr-2 flex-none touch-none overflow-visible" role="group" aria-label={`${of} by hue: outward more, inward less`}>
        <circle cx={MIDDLE} cy={MIDDLE} r={RING} fill="none" stroke="var(--color-edge)" />
        <path d={`M${line.join("L")}Z`} fill="none" stroke="var(--color-ink-2)" strokeDasharray="3 3" />
        {hues.map((parameter, k) => {
          const { x, y } = at(k, weight(parameter.id));
          const percent = Math.round(weight(parameter.id) * 100);
          return (
            <g
              key={parameter.id}
              transform={`translate(${x.toFixed(1)} ${y.toFixed(1)})`}
              className="cursor-grab"
              tabIndex={0}
              role="slider"
              aria-label={`${of} of the ${parameter.name.toLowerCase()}`}
              aria-valuemin={-100}
              aria-valuemax={100}
              aria-valuenow={percent}
              aria-valuetext={`${percent} %`}
              onPointerDown={(event) => drag(event, parameter, k)}
              onDoubleClick={() => put(parameter, 0, true)}
              onKeyDown={(event) => key(event, parameter)}
            >
              <circle r="12" fill="transparent" />
              <circle r="6" fill={tint(degrees(k))} stroke="var(--color-ink)" strokeWidth="1.5" />
              <title>{parameter.name}</title>
            </g>
          );
        })}
      </svg>
      <div className="grid w-68 flex-none grid-cols-2 gap-x-3 gap-y-1 self-start">
        {hues.map((parameter, k) => (
          <span key={parameter.id} data-parameter={parameter.id} className="flex items-center gap-2 text-[12px] [&_.number]:w-13 [&_.number]:flex-none [&_input]:w-full [&_input]:border-b [&_input]:border-edge">
            <i className="size-2.5 flex-none rounded-full" style={{ background: tint(degrees(k)) }} />
            <span className="flex-1">{parameter.name}</span>
            <NumberField parameter={parameter} value={weight(parameter.id)} frame={frame} onCommit={(next) => put(parameter, next, true)} />
          </span>
        ))}
      </div>
    </>
  );
}

function tint(hue: number): string {
  return `oklch(0.68 0.13 ${hue})`;
}
