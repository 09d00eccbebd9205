/** One square pad: three pucks over a plane of hues give shadows, midtones and highlights their colour. */

import type { Value } from "../document/edit";
import { clamp } from "../document/numbers";
import { follow } from "../bench/drag";

const SIDE = 136;
const MIDDLE = SIDE / 2;
const REACH = MIDDLE - 8;
/** Eyelets of three sizes: where all stand in one place, each can still be seen and held. */
const ZONES = [
  ["shadows", 12, "Shadows"],
  ["midtones", 8, "Midtones"],
  ["highlights", 4, "Highlights"],
] as const;

const held = (value: number) => Number(clamp(value, -1, 1).toFixed(3));

type Props = {
  readonly values: Readonly<Record<string, Value>>;
  readonly onChange: (values: Record<string, Value>, end: boolean) => void;
};

export function TonePad({ values, onChange }: Props) {
  const place = (zone: string) => ({ x: Number(values[`${zone}_x`] ?? 0), y: Number(values[`${zone}_y`] ?? 0) });
  const put = (zone: string, x: number, y: number, end: boolean) => {
    onChange({ [`${zone}_x`]: held(x), [`${zone}_y`]: held(y) }, end);
  };
  const drag = (event: React.PointerEvent<SVGElement>, zone: string) => {
    const from = place(zone);
    let last = from;
    follow(event, {
      onMove: (way) => {
        const share = (way.shift ? 0.1 : 1) / REACH;
        last = { x: from.x + (way.to.x - way.from.x) * share, y: from.y - (way.to.y - way.from.y) * share };
        put(zone, last.x, last.y, false);
      },
      onEnd: (kept) => kept && last !== from && put(zone, last.x, last.y, true),
    });
  };
  const key = (event: React.KeyboardEvent, zone: string) => {
    const step = event.shiftKey ? 0.005 : 0.05;
    const way = { ArrowLeft: [-step, 0], ArrowRight: [step, 0], ArrowUp: [0, step], ArrowDown: [0, -step] }[event.key];
    const home = event.key === "Backspace";
    if (!way && !home) return;
    event.preventDefault();
    event.stopPropagation();
    const { x, y } = place(zone);
    if (home) put(zone, 0, 0, true);
    else put(zone, x + (way?.[0] ?? 0), y + (way?.[1] ?? 0), true);
  };
  return (
    <svg className="pad bg-field [box-shadow:inset_0_0_0_1px_var(--color-line)] flex-none mr-1.5 overflow-visible touch-none" width={SIDE} height={SIDE} role="group" aria-label="Tone pad: red to the right, yellow up">
      <path d={`M${MIDDLE} 0V${SIDE}M0 ${MIDDLE}H${SIDE}`} className="[stroke:var(--color-edge)]" />
      <text x={SIDE - 4} y={MIDDLE - 4} textAnchor="end">red</text>
      <text x="4" y={MIDDLE - 4}>green</text>
      <text x={MIDDLE + 4} y="11">yellow</text>
      <text x={MIDDLE + 4} y={SIDE - 4}>blue</text>
      {ZONES.map(([zone, size, name]) => {
        const { x, y } = place(zone);
        return (
          <g
            key={zone}
            className="puck cursor-grab"
            transform={`translate(${MIDDLE + x * REACH} ${MIDDLE - y * REACH})`}
            tabIndex={0}
            role="slider"
            aria-label={`Colour of the ${name.toLowerCase()}`}
            aria-valuemin={-100}
            aria-valuemax={100}
            aria-valuenow={Math.round(x * 100)}
            aria-valuetext={`red ${Math.round(x * 100)} %, yellow ${Math.round(y * 100)} %`}
            onPointerDown={(event) => drag(event, zone)}
            onDoubleClick={() => put(zone, 0, 0, true)}
            onKeyDown={(event) => key(event, zone)}
          >
            <circle r={size + 2} className="hit [fill:transparent]" />
            <circle r={size} className={zone} />
            <title>{name}</title>
          </g>
        );
      })}
    </svg>
  );
}
