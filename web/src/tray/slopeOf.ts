/** A part of which a slope is in hand, and how its numbers are set. */

import type { Parameter, Part, PartKind, Region, Slope } from "../api/client";
import { change } from "../bench/saving";
import { useBench } from "../bench/store";
import { setPartValues } from "../document/edit";
import { clamp } from "../document/numbers";
import { completeValues } from "./values";

export type Of = { readonly kind: PartKind; readonly region: Region; readonly part: Part };

export function numberOf(kind: PartKind, id: string): Parameter | undefined {
  return kind.parameters.find((each) => each.id === id);
}

export function isOn({ kind, part }: Of, slope: Slope): boolean {
  return slope.on === "" || completeValues(kind, part.values ?? {})[slope.on] === "on";
}

export function set({ region, part }: Of, values: Readonly<Record<string, number | string>>, said: string, end: boolean): void {
  change(setPartValues(useBench.getState().sheet, region.id, part.id, values), said, end);
}

/** Numbers within what their parameters take. */
export function held(kind: PartKind, numbers: Readonly<Record<string, number>>): Record<string, number> {
  const within = (id: string, value: number) => {
    const number = numberOf(kind, id);
    return number ? clamp(value, number.floor, number.ceiling) : value;
  };
  return Object.fromEntries(Object.entries(numbers).map(([id, value]) => [id, within(id, value)]));
}
