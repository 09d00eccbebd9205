/** What is said of a range, and its numbers to be typed. */

import type { Ranged, Slope } from "../api/client";
import { change } from "../bench/saving";
import { pointOut, useBench } from "../bench/store";
import { setPart } from "../document/edit";
import { type Frame } from "../document/numbers";
import { OPACITY } from "./parameters";
import { completeValues } from "./values";
import { Button } from "../ui/Button";
import { Say } from "../ui/Words";
import { NumberField } from "./NumberField";
import { held, numberOf, type Of, set } from "./slopeOf";

const NOTES = "mt-0.5 max-w-94";

/** Sentences on the range, and the matte at the two ends of the light. */
export function Notes({ ranged, shot }: { readonly ranged: Ranged | null; readonly shot: Frame }) {
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
export function Numbers({ slope, frame, ...of }: NumbersProps) {
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
