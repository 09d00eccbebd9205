/** A range as a slope over the picture's own distribution: openwork outside, whole inside. */

import { type PointerEvent, useId, useState } from "react";
import { Tab, TabList, TabPanel, Tabs } from "react-aria-components";
import type { Catalogue, Part, Ranged, Region, Slope } from "../api/client";
import { useRanged } from "../bench/sampling";
import { clamp, type Frame } from "../document/numbers";
import { beadsOf, moved, type Ends, slopeLine } from "../document/slope";
import { follow } from "../bench/drag";
import { PartChoices } from "./PartFaders";
import { completeValues, kindOf } from "./values";
import { Button } from "../ui/Button";
import { Notes, Numbers } from "./SlopeNumbers";
import { isOn, numberOf, type Of, set } from "./slopeOf";

const WIDTH = 376;
const HEIGHT = 86;
const TICKS = [0, 0.2, 0.4, 0.6, 0.8, 1];

type Props = { readonly catalogue: Catalogue; readonly region: Region; readonly part: Part; readonly frame: Frame };

export function SlopeControl({ catalogue, region, part, frame }: Props) {
  const kind = kindOf(catalogue, part.kind);
  const [axis, setAxis] = useState(kind?.slopes[0]?.axis);
  const ranged = useRanged(region.id, part.id);
  const slope = kind?.slopes.find((each) => each.axis === axis) ?? kind?.slopes[0];
  if (!kind || !slope) return null;
  return (
    <div className="flex min-w-0 flex-1 gap-4.5 pl-3.5">
      <Tabs selectedKey={slope.axis} onSelectionChange={(key) => setAxis(key as Slope["axis"])}>
        {kind.slopes.length > 1 && <Axes {...{ kind, region, part }} />}
        <TabPanel key={slope.axis} id={slope.axis}>
          <Field key={slope.axis} {...{ kind, slope, region, part, ranged }} low={kind.slopes.length > 1} />
          <Notes ranged={ranged} shot={frame} />
        </TabPanel>
      </Tabs>
      <Numbers {...{ kind, slope, region, part, frame }} />
      <div className="-mt-1.5 flex flex-col [&_[role=radiogroup]]:min-w-17.5 [&_[role=radiogroup]]:gap-0 [&_[role=radiogroup]]:px-0 [&_[role=radiogroup]]:pt-1 [&_[role=radiogroup]>label]:h-5 [&_[role=radiogroup]>label]:leading-5">
        <PartChoices {...{ kind, region, part }} />
      </div>
    </div>
  );
}

/** Where a slope's tab and its switch stand among the others. */
const ORDER = ["order-1", "order-3", "order-5", "order-7"];
const ORDER_OF_SWITCH = ["order-2 mr-3", "order-4 mr-3", "order-6 mr-3", "order-8"];

/** The slopes of a part, each on or off. */
function Axes(of: Of) {
  const { slopes } = of.kind;
  return (
    <div className="flex h-5.5 items-baseline gap-1.5">
      <TabList aria-label="Slopes" className="contents">
        {slopes.map(({ axis, name }, index) => (
          <Tab key={axis} id={axis} className={`group cursor-default text-ui font-medium text-ink-2 data-selected:font-semibold data-selected:text-ink ${ORDER[index]}`}>
            <span className="group-data-selected:shadow-[0_2px_0_var(--color-mark-line)]">{name}</span>
          </Tab>
        ))}
      </TabList>
      {slopes.map(
        (slope, index) =>
          slope.on && (
            <Button
              key={slope.axis}
              title="Whether the part looks at this at all"
              className={ORDER_OF_SWITCH[index]}
              aria-pressed={isOn(of, slope)}
              aria-label={`${slope.name} counts`}
              onClick={() => set(of, { [slope.on]: isOn(of, slope) ? "off" : "on" }, slope.name.toLowerCase(), true)}
            >
              {isOn(of, slope) ? "on" : "off"}
            </Button>
          ),
      )}
    </div>
  );
}

type FieldProps = Of & { readonly slope: Slope; readonly ranged: Ranged | null; readonly low: boolean };

function Field({ slope, ranged, low, ...of }: FieldProps) {
  const height = low ? HEIGHT - 22 : HEIGHT;
  const values = completeValues(of.kind, of.part.values ?? {});
  const ends: Ends = {
    low: Number(values[slope.low]),
    softLow: Number(values[slope.soft_low]),
    high: Number(values[slope.high]),
    softHigh: Number(values[slope.soft_high]),
  };
  const number = numberOf(of.kind, slope.low);
  const hue = slope.axis === "hue";
  const top = hue ? 360 : (numberOf(of.kind, slope.high)?.high ?? 1);
  const step = number?.step ?? 0.005;
  const beads = beadsOf(ends, top, hue);
  const names = hue ? ["Less softness", "Less hue", "More hue", "More softness"] : ["Nothing below", "Whole from", "Whole to", "Nothing above"];
  const steep = ranged?.steep.some((id) => id === slope.soft_low || id === slope.soft_high) ?? false;
  const write = (next: Ends, end: boolean) => {
    const made = { [slope.low]: next.low, [slope.soft_low]: next.softLow, [slope.high]: next.high, [slope.soft_high]: next.softHigh };
    set(of, made, slope.name.toLowerCase(), end);
  };
  const drag = (event: PointerEvent<SVGElement>, bead: number | null) => {
    let last = ends;
    follow(event, {
      onMove: (way) => {
        const by = ((way.to.x - way.from.x) / WIDTH) * top * (way.shift ? 0.1 : 1);
        last = moved(ends, bead, by, top, step, hue);
        write(last, false);
      },
      onEnd: (kept) => kept && write(last, true),
    });
  };
  const key = (event: React.KeyboardEvent, bead: number) => {
    const way = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
    if (!way) return;
    event.preventDefault();
    event.stopPropagation();
    write(moved(ends, bead, way * step * (event.shiftKey ? 1 : 4), top, step, hue), true);
  };
  const found = ranged?.distributions.find((each) => each.axis === slope.axis);
  const x = (value: number) => (value / top) * WIDTH;
  return (
    <svg
      className={`slope-field${isOn(of, slope) ? "" : " off"}`}
      width={WIDTH}
      height={height + 20}
      role="group"
      aria-label={`${slope.name}: drag a bead, or the line between them`}
    >
      {hue && <HueStrip width={WIDTH} height={height} />}
      <path d={bars(found?.everywhere ?? [], height)} className="[stroke:var(--color-ink-3)] [stroke-width:0.9] opacity-80" />
      <path d={bars(found?.inside ?? [], height)} data-whole className="whole [stroke:var(--color-ink-2)] [stroke-width:2.6]" />
      <path d={`M0 ${height}.5H${WIDTH}`} className="[stroke:var(--color-edge)]" />
      <path
        d={slopeLine(ends, top, hue, String(values.profile), WIDTH, height)}
        className={`line${steep ? " steep" : ""}`}
        data-steep={steep}
      />
      <path
        d={slopeLine(ends, top, hue, String(values.profile), WIDTH, height)}
        className="[stroke:transparent] [stroke-width:14] [fill:none] cursor-ew-resize"
        onPointerDown={(event) => drag(event, null)}
      />
      {beads.map((bead, index) => (
        <circle
          key={names[index]}
          cx={clamp(x(bead.at), 0, WIDTH)}
          cy={bead.full ? 4 : height}
          r="5"
          tabIndex={0}
          role="slider"
          aria-label={names[index] ?? ""}
          aria-valuemin={0}
          aria-valuemax={top}
          aria-valuenow={Number(bead.at.toFixed(3))}
          onPointerDown={(event) => drag(event, index)}
          onKeyDown={(event) => key(event, index)}
        />
      ))}
      {TICKS.map((tick) => (
        <text key={tick} x={tick * WIDTH} y={height + 15} textAnchor={tick === 0 ? "start" : tick === 1 ? "end" : "middle"}>
          {label(tick * top, slope.axis)}
        </text>
      ))}
    </svg>
  );
}

function label(value: number, axis: Slope["axis"]): string {
  if (axis === "hue") return `${Math.round(value)}°`;
  return axis === "chroma" ? value.toFixed(2) : `${Math.round(value * 100)} %`;
}

/** Bars in pairs of bins. */
function bars(shares: readonly number[], height: number): string {
  let path = "";
  const step = WIDTH / Math.max(shares.length, 1);
  shares.forEach((share, k) => {
    const high = share * height * 0.92;
    if (high > 0.4) path += `M${((k + 0.5) * step).toFixed(1)} ${height}v${(-high).toFixed(1)}`;
  });
  return path;
}

const HUES = Array.from({ length: 25 }, (_, k) => k * 15);

/** All hues at one lightness and chroma, faint behind the bars and clear in a strip below. */
function HueStrip({ width, height }: { readonly width: number; readonly height: number }) {
  const id = useId();
  return (
    <>
      <linearGradient id={id}>
        {HUES.map((hue) => (
          <stop key={hue} offset={`${(100 * hue) / 360}%`} stopColor={`oklch(.72 .12 ${hue})`} />
        ))}
      </linearGradient>
      <rect width={width} height={height} fill={`url(#${id})`} opacity=".16" />
      <rect y={height - 6} width={width} height="6" fill={`url(#${id})`} />
    </>
  );
}
