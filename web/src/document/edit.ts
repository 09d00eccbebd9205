/** Changes of a sheet as pure functions: sheet in, sheet out. What is saved is the step between the two. */

import type { Part, Pass, Region, Sheet } from "../api/client";

export type Side = "inside" | "outside";
/** Points (x, y) of a curve, both 0…1. */
export type CurvePoints = number[][];
export type Value = number | string | CurvePoints;
type Values = Readonly<Record<string, Value>>;

/** Points as the sheet keeps them. */
export function pointsOf(points: readonly (readonly number[])[]): number[][] {
  return points.map((point) => [...point]);
}

function changed<Item extends { readonly id: string }>(items: readonly Item[], id: string, to: (item: Item) => Item) {
  return items.map((item) => (item.id === id ? to(item) : item));
}

export function setPass(sheet: Sheet, id: string, fields: Partial<Pass>): Sheet {
  return { ...sheet, passes: changed(sheet.passes, id, (pass) => ({ ...pass, ...fields })) };
}

export function treatmentOf(pass: Pass, side: Side): Readonly<Record<string, Values>> {
  return pass[side] ?? {};
}

export function setAdjustment(sheet: Sheet, id: string, side: Side, adjustment: string, values: Values): Sheet {
  const to = (pass: Pass): Pass => {
    const treatment = { ...treatmentOf(pass, side) };
    treatment[adjustment] = { ...treatment[adjustment], ...values };
    return { ...pass, [side]: treatment };
  };
  return { ...sheet, passes: changed(sheet.passes, id, to) };
}

/** Takes an adjustment out of a treatment, so that a sheet never keeps what says nothing. */
export function dropAdjustment(sheet: Sheet, id: string, side: Side, adjustment: string): Sheet {
  const to = (pass: Pass): Pass => {
    const { [adjustment]: _gone, ...treatment } = treatmentOf(pass, side);
    return { ...pass, [side]: treatment };
  };
  return { ...sheet, passes: changed(sheet.passes, id, to) };
}

/** Does inside what was done outside, and the other way round. */
export function swapSides(sheet: Sheet, id: string): Sheet {
  return { ...sheet, passes: changed(sheet.passes, id, (pass) => ({ ...pass, inside: pass.outside, outside: pass.inside })) };
}

export function movePass(sheet: Sheet, from: number, to: number): Sheet {
  const passes = [...sheet.passes];
  const [moved] = passes.splice(from, 1);
  if (moved) passes.splice(to, 0, moved);
  return { ...sheet, passes };
}

export function removePass(sheet: Sheet, id: string): Sheet {
  return { ...sheet, passes: sheet.passes.filter((pass) => pass.id !== id) };
}

export function duplicatePass(sheet: Sheet, id: string): { sheet: Sheet; id: string } {
  const at = sheet.passes.findIndex((pass) => pass.id === id);
  const pass = sheet.passes[at];
  if (!pass) return { sheet, id };
  const copy: Pass = { ...pass, id: free("pass", sheet.passes), name: `${pass.name} copy`.slice(0, 60) };
  const passes = [...sheet.passes.slice(0, at + 1), copy, ...sheet.passes.slice(at + 1)];
  return { sheet: { ...sheet, passes }, id: copy.id };
}

export function setRegion(sheet: Sheet, id: string, fields: Partial<Region>): Sheet {
  return { ...sheet, regions: changed(sheet.regions, id, (region) => ({ ...region, ...fields })) };
}

export function setPart(sheet: Sheet, region: string, id: string, fields: Partial<Part>): Sheet {
  const to = (each: Region): Region => ({
    ...each,
    parts: changed(each.parts, id, (part) => ({ ...part, ...fields })),
  });
  return { ...sheet, regions: changed(sheet.regions, region, to) };
}

export function setPartValues(sheet: Sheet, region: string, id: string, values: Values): Sheet {
  const part = partOf(sheet, region, id);
  return part ? setPart(sheet, region, id, { values: { ...part.values, ...values } }) : sheet;
}

export function removePart(sheet: Sheet, region: string, id: string): Sheet {
  const to = (each: Region): Region => ({ ...each, parts: each.parts.filter((part) => part.id !== id) });
  return { ...sheet, regions: changed(sheet.regions, region, to) };
}

/** Moves a part one place earlier in its region. */
export function partEarlier(sheet: Sheet, region: string, id: string): Sheet {
  const to = (each: Region): Region => {
    const parts = [...each.parts];
    const at = parts.findIndex((part) => part.id === id);
    const [moved] = parts.splice(at, 1);
    if (moved) parts.splice(Math.max(at - 1, 0), 0, moved);
    return { ...each, parts };
  };
  return { ...sheet, regions: changed(sheet.regions, region, to) };
}

/** A copy of a region beside it on the shelf, used by no pass yet. */
export function duplicateRegion(sheet: Sheet, id: string): { sheet: Sheet; id: string } {
  const region = regionOf(sheet, id);
  if (!region) return { sheet, id };
  const names = new Set(sheet.regions.map((each) => each.name));
  let number = 2;
  while (names.has(`${region.name} ${number}`)) number += 1;
  const copy: Region = { ...region, id: free("region", sheet.regions), name: `${region.name} ${number}`.slice(0, 60) };
  const at = sheet.regions.indexOf(region) + 1;
  return { sheet: { ...sheet, regions: [...sheet.regions.slice(0, at), copy, ...sheet.regions.slice(at)] }, id: copy.id };
}

/** Removes a region: the parts that stand for it go, and the passes that work on it go too, or take the whole picture. */
export function removeRegion(sheet: Sheet, id: string, passes: "go" | "whole"): Sheet {
  const regions = sheet.regions
    .filter((region) => region.id !== id)
    .map((region) => {
      const parts = region.parts.filter((part) => part.values?.region !== id);
      return parts.length === region.parts.length ? region : { ...region, parts };
    });
  const left = passes === "go" ? sheet.passes.filter((pass) => pass.region !== id) : sheet.passes;
  return { ...sheet, regions, passes: left.map((pass) => (pass.region === id ? { ...pass, region: null } : pass)) };
}

/** A region and those that stand in it as parts, near or far. */
export function withLower(sheet: Sheet, region: Region): readonly Region[] {
  const found = new Map([[region.id, region]]);
  const waiting: Region[] = [region];
  for (let each = waiting.pop(); each; each = waiting.pop()) {
    for (const part of each.parts) {
      const lower = regionOf(sheet, String(part.values?.region ?? ""));
      if (lower && !found.has(lower.id)) {
        found.set(lower.id, lower);
        waiting.push(lower);
      }
    }
  }
  return [...found.values()];
}

/** The regions that have this one as a part. */
export function regionsUsing(sheet: Sheet, id: string): readonly Region[] {
  return sheet.regions.filter((region) => region.parts.some((part) => part.values?.region === id));
}

export function setRefine(sheet: Sheet, id: string, values: Values): Sheet {
  return setRegion(sheet, id, { refine: { ...regionOf(sheet, id)?.refine, ...values } });
}

export function regionOf(sheet: Sheet, id: string | null | undefined): Region | undefined {
  return sheet.regions.find((region) => region.id === id);
}

export function partOf(sheet: Sheet, region: string, id: string): Part | undefined {
  return regionOf(sheet, region)?.parts.find((part) => part.id === id);
}

export function passesUsing(sheet: Sheet, region: string): readonly Pass[] {
  return sheet.passes.filter((pass) => pass.region === region);
}

/** "pass 1", "passes 1, 3", "in a region", or "no pass". */
export function usedBy(sheet: Sheet, region: string): string {
  const numbers = sheet.passes.flatMap((pass, index) => (pass.region === region ? [index + 1] : []));
  if (numbers.length === 0) return regionsUsing(sheet, region).length > 0 ? "in a region" : "no pass";
  return numbers.length === 1 ? `pass ${numbers[0]}` : `passes ${numbers.join(", ")}`;
}

function free(stem: string, items: readonly { readonly id: string }[]): string {
  const taken = new Set(items.map((item) => item.id));
  let number = 1;
  while (taken.has(`${stem}-${number}`)) number += 1;
  return `${stem}-${number}`;
}
