/** Numbers as fields show them: the sentence's own words come from the server, the fields follow the same form. */

import type { Parameter } from "../api/client";

const MINUS = "\u2212";
/** Daylight of 6504 K, from which temperatures are kept as a shift, warmer above 0. */
const MIRED_OF_WHITE = 1e6 / 6504;
const UNITS: Readonly<Record<string, string>> = { EV: "EV", angle: "°", mired: "K", duv: "", factor: "", count: "", delta: "", chroma: "" };

export type Frame = { readonly width: number; readonly height: number };
export type Shown = { readonly digits: string; readonly unit: string };

/** Stored value → the number a person reads (per cent, stops, degrees). */
function spoken(value: number, unit: string, frame: Frame): number {
  if (unit === "across") return (value * frame.height * 100) / frame.width;
  if (unit === "mired") return 1e6 / (MIRED_OF_WHITE - value);
  return unit === "share" || unit === "length" ? value * 100 : value;
}

/** The number a person typed → stored value. */
function stored(number: number, unit: string, frame: Frame): number {
  if (unit === "across") return (number * frame.width) / (frame.height * 100);
  if (unit === "mired") return MIRED_OF_WHITE - 1e6 / Math.max(number, 1000);
  return unit === "share" || unit === "length" ? number / 100 : number;
}

function digitsOf(number: number, unit: string): string {
  const size = Math.abs(number);
  if (unit === "EV") return trimmed(size, 1, 2);
  if (unit === "share") return trimmed(size, 0, 1);
  if (unit === "mired") return String(50 * Math.round(size / 50));
  if (unit === "duv") return size.toFixed(4);
  if (unit === "factor") return trimmed(size, 2, 3);
  if (unit === "count") return size.toFixed(0);
  if (unit === "chroma") return size.toFixed(3);
  if (unit === "length" && size > 0 && size < 0.995) return size.toFixed(2);
  return size.toFixed(1);
}

function trimmed(size: number, least: number, most: number): string {
  for (let places = least; places < most; places += 1) {
    if (Math.abs(Number(size.toFixed(places)) - size) < 1e-9) return size.toFixed(places);
  }
  return size.toFixed(most);
}

export function show(value: number, parameter: Parameter, frame: Frame): Shown {
  const number = spoken(parameter.turned ? -value : value, parameter.unit, frame);
  const digits = digitsOf(number, parameter.unit);
  const zero = Number(digits) === 0;
  const signed = parameter.signed && parameter.unit !== "mired";
  const sign = number < 0 && !zero ? MINUS : signed && !zero ? "+" : "";
  return { digits: sign + digits, unit: UNITS[parameter.unit] ?? "%" };
}

/** The unit that a number is typed in, besides pixels for lengths and places; what else may stand for it. */
const TYPED: Readonly<Record<string, readonly string[]>> = {
  EV: ["ev", "stop", "stops"],
  share: ["%"],
  length: ["%", "px"],
  across: ["%", "px"],
  angle: ["°", "deg"],
  mired: ["k"],
  duv: ["duv"],
};
const NAMES: Readonly<Record<string, string>> = {
  EV: "EV",
  share: "%",
  length: "% of the height, or px",
  across: "% of the width, or px",
  angle: "°",
  mired: "K",
  duv: "Duv",
};

/** What was typed, as a stored value within what may be typed; a sentence when it is no number, or in another unit. */
export function parse(text: string, parameter: Parameter, frame: Frame): number | string {
  const [, digits = "", unit = ""] = /^\s*([+-]?[\d.,]+)\s*(\D*?)\s*$/.exec(text.replace(MINUS, "-")) ?? [];
  const number = Number(digits.replace(",", "."));
  if (digits === "" || !Number.isFinite(number)) return `“${text.trim()}” is no number.`;
  const units = TYPED[parameter.unit] ?? [];
  if (unit !== "" && !units.includes(unit.toLowerCase())) {
    const wanted = NAMES[parameter.unit];
    return wanted ? `${parameter.name} is in ${wanted}, not in “${unit}”.` : `${parameter.name} has no unit.`;
  }
  const value = unit.toLowerCase() === "px" ? number / frame.height : stored(number, parameter.unit, frame);
  return clamp(parameter.turned ? -value : value, parameter.floor, parameter.ceiling);
}

export function clamp(value: number, low: number, high: number): number {
  return Math.min(Math.max(value, low), high);
}

/** The neutral value; of a place across it is a share of the width. */
export function neutralOf(parameter: Parameter, frame: Frame): number {
  return Number(parameter.neutral) * (parameter.unit === "across" ? frame.width / frame.height : 1);
}

/** Ends of the fader: a place across runs to the picture's width. */
function ends(parameter: Parameter, frame: Frame): readonly [number, number] {
  const stretch = parameter.unit === "across" ? frame.width / frame.height : 1;
  return [parameter.low * stretch, parameter.high * stretch];
}

/** Value → place on the fader, 0 at the bottom, 1 at the top. */
export function placeOf(value: number, parameter: Parameter, frame: Frame): number {
  const [low, high] = ends(parameter, frame);
  const along = clamp((value - low) / (high - low), 0, 1);
  const share = parameter.turned ? 1 - along : along;
  return parameter.curve === "square" ? Math.sqrt(share) : share;
}

/** Place on the fader → value, in whole steps. */
export function valueAt(place: number, parameter: Parameter, frame: Frame, fine = false): number {
  const [low, high] = ends(parameter, frame);
  const along = clamp(parameter.turned ? 1 - place : place, 0, 1);
  const share = along ** (parameter.curve === "square" ? 2 : 1);
  return stepped(low + share * (high - low), fine ? parameter.step / 10 : parameter.step);
}

export function stepped(value: number, step: number): number {
  return Number((Math.round(value / step) * step).toFixed(6));
}

/** Full-size pixels of a length, for the line under a fader's name. */
export function pixels(value: number, frame: Frame): number {
  return Math.round(value * frame.height);
}
