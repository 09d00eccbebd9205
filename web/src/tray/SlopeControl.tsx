/** A range as a slope over the picture's own distribution: openwork outside, whole inside. */

import { type PointerEvent, useId, useState } from "react";
import { Tab, TabList, TabPanel, Tabs } from "react-aria-components";
import type { Catalogue, Parameter, Part, PartKind, Ranged, Region, Slope } from "../api/client";
import { useRanged } from "../bench/sampling";
import { change } from "../bench/saving";
import { pointOut, useBench } from "../bench/store";
import { setPart, setPartValues } from "../document/edit";
import { clamp, type Frame } from "../document/numbers";
import { beadsOf, moved, type Ends, slopeLine } from "../document/slope";
import { follow } from "../stage/drag";
import { NumberField } from "./NumberField";
import { OPACITY } from "./parameters";
import { PartChoices } from "./PartFaders";
import { completeValues, kindOf } from "./values";
import { Button } from "../ui/Button";
import { Say } from "../ui/Words";

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

type Of = { readonly kind: PartKind; readonly region: Region; readonly part: Part };

function numberOf(kind: PartKind, id: string): Parameter | undefined {
  return kind.parameters.find((each) => each.id === id);
}

function isOn({ kind, part }: Of, slope: Slope): boolean {
  return slope.on === "" || completeValues(kind, part.values ?? {})[slope.on] === "on";
}

function set({ region, part }: Of, values: Readonly<Record<string, number | string>>, said: string, end: boolean): void {
  change(setPartValues(useBench.getState().sheet, region.id, part.id, values), said, end);
}

const NOTES = "mt-0.5 max-w-94";

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

/** Sentences on the range, and the matte at the two ends of the light. */
function Notes({ ranged, shot }: { readonly ranged: Ranged | null; readonly shot: Frame }) {
  if (!ranged) return <Say look="small" className={NOTES}>&nbsp;</Say>;
  const ends = [
    ["brightest", ranged.brightest],
    ["darkest", ranged.darkest],
  ] as const;
  return (
    <Say look="small" className={NOTES}>
      {ranged.notes.length > 0 ? (
        <span data-notes>{ranged.notes.join(" ")}</span>
      ) : (
        <>
          Matte at the{" "}
          {ends.map(([name, [x = 0, y = 0, matte = 0]], index) => (
            <span key={name}>
              {index > 0 && ", at the "}
              <Button
                title="Go there"
                onClick={() => pointOut({ x: x * shot.height, y: y * shot.height }, useBench.getState().zoom?.scale ?? 0.5)}
              >
                {name}
              </Button>{" "}
              place <b>{matte.toFixed(2)}</b>
            </span>
          ))}
        </>
      )}
    </Say>
  );
}

/** Numbers within what their parameters take. */
function held(kind: PartKind, numbers: Readonly<Record<string, number>>): Record<string, number> {
  const within = (id: string, value: number) => {
    const number = numberOf(kind, id);
    return number ? clamp(value, number.floor, number.ceiling) : value;
  };
  return Object.fromEntries(Object.entries(numbers).map(([id, value]) => [id, within(id, value)]));
}

type Placed = { readonly name: string; readonly value: number; readonly write: (value: number) => Record<string, number> };

/** The four places of a slope, as its beads are named; a place that is passed by another goes along. */
function placesOf(slope: Slope, values: Readonly<Record<string, unknown>>): readonly Placed[] {
  const low = Number(values[slope.low]);
  const high = Number(values[slope.high]);
  const below = low - Number(values[slope.soft_low]);
  const above = high + Number(values[slope.soft_high]);
  const made = (a: number, b: number, c: number, d: number) => ({
    [slope.low]: b,
    [slope.soft_low]: Math.max(b - a, 0),
    [slope.high]: c,
    [slope.soft_high]: Math.max(d - c, 0),
  });
  return [
    { name: "Nothing below", value: below, write: (at) => made(at, Math.max(low, at), Math.max(high, at), Math.max(above, at)) },
    { name: "Whole from", value: low, write: (at) => made(Math.min(below, at), at, Math.max(high, at), Math.max(above, at)) },
    { name: "Whole to", value: high, write: (at) => made(Math.min(below, at), Math.min(low, at), at, Math.max(above, at)) },
    { name: "Nothing above", value: above, write: (at) => made(Math.min(below, at), Math.min(low, at), Math.min(high, at), at) },
  ];
}

type NumbersProps = Of & { readonly slope: Slope; readonly frame: Frame };

/** The numbers of a slope, and those of the whole part. */
function Numbers({ slope, frame, ...of }: NumbersProps) {
  const values = completeValues(of.kind, of.part.values ?? {});
  const hue = slope.axis === "hue";
  const ids = hue ? [...new Set([slope.low, slope.soft_low, slope.high, slope.soft_high, "denoise"])] : ["denoise"];
  const numbers = ids.flatMap((id) => numberOf(of.kind, id) ?? []);
  const axis = numberOf(of.kind, slope.low);
  const short = (name: string) => name.replace(`${slope.name} `, "").replace(/^./, (letter) => letter.toUpperCase());
  return (
    <div className="grid grid-cols-[74px_74px] content-start gap-x-3 gap-y-px [&>*>span:first-child]:block [&>*>span:first-child]:text-label [&>*>span:first-child]:font-medium [&>*>span:first-child]:whitespace-nowrap [&>*>span:first-child]:text-ink-2">
      {axis &&
        !hue &&
        placesOf(slope, values).map((place) => (
          <label key={place.name}>
            <span>{place.name}</span>
            <NumberField
              className="w-18.5"
              parameter={{ ...axis, name: place.name, floor: axis.floor - 1, ceiling: axis.ceiling + 1 }}
              value={place.value}
              frame={frame}
              onCommit={(value) => set(of, held(of.kind, place.write(value)), place.name.toLowerCase(), true)}
            />
          </label>
        ))}
      {numbers.map((number) => (
        <label key={number.id}>
          <span>{short(number.name)}</span>
          <NumberField
            className="w-18.5"
            parameter={number}
            value={Number(values[number.id])}
            frame={frame}
            onCommit={(value) => set(of, { [number.id]: value }, number.name.toLowerCase(), true)}
          />
        </label>
      ))}
      <div>
        <span>Opacity</span>
        <NumberField
          className="w-18.5"
          parameter={OPACITY}
          value={of.part.opacity}
          frame={frame}
          onCommit={(opacity) => change(setPart(useBench.getState().sheet, of.region.id, of.part.id, { opacity }), "opacity")}
        />
      </div>
    </div>
  );
}
