/** Changes of a sheet leave the sheet before as it was, and all else as it is. */

import { describe, expect, it } from "vitest";
import type { Sheet } from "../api/client";
import { duplicatePass, duplicateRegion, movePass, partEarlier, removePart, removeRegion, setAdjustment, swapSides } from "./edit";

const SHEET = {
  version: 2,
  regions: [
    { id: "r", name: "lamp", parts: [{ id: "a", kind: "ellipse", join: "add", values: {} }, { id: "b", kind: "gradient", join: "subtract", values: {} }] },
    { id: "s", name: "sky", parts: [{ id: "c", kind: "region", join: "add", values: { region: "r" } }] },
  ],
  passes: [
    { id: "p", name: "one", region: "r", on: true, strength: 1, mix: 1, inside: { exposure: { amount: 1 } }, outside: { saturation: { amount: -0.2 } } },
    { id: "q", name: "two", region: null, on: true, strength: 1, mix: 1, inside: { exposure: { amount: 2 } }, outside: {} },
  ],
} as unknown as Sheet;
const FROZEN = JSON.stringify(SHEET);

describe("a sheet", () => {
  it("swaps the sides of a pass, and twice is once", () => {
    const once = swapSides(SHEET, "p");
    expect(once.passes[0]?.outside).toEqual({ exposure: { amount: 1 } });
    expect(swapSides(once, "p")).toEqual(SHEET);
  });

  it("moves a pass and leaves the others in their order", () => {
    expect(movePass(SHEET, 1, 0).passes.map(({ id }) => id)).toEqual(["q", "p"]);
  });

  it("gives copies ids and names of their own", () => {
    const pass = duplicatePass(SHEET, "p");
    expect(new Set(pass.sheet.passes.map(({ id }) => id)).size).toBe(3);
    const region = duplicateRegion(SHEET, "r");
    expect(region.sheet.regions.map(({ name }) => name)).toEqual(["lamp", "lamp 2", "sky"]);
  });

  it("takes a region with its passes, or leaves them on the whole picture", () => {
    expect(removeRegion(SHEET, "s", "go").regions.map(({ id }) => id)).toEqual(["r"]);
    const whole = removeRegion(SHEET, "r", "whole");
    expect(whole.passes.map(({ region }) => region ?? null)).toEqual([null, null]);
    expect(removeRegion(SHEET, "r", "go").passes.map(({ id }) => id)).toEqual(["q"]);
  });

  it("orders and removes parts", () => {
    expect(partEarlier(SHEET, "r", "b").regions[0]?.parts?.map(({ id }) => id)).toEqual(["b", "a"]);
    expect(removePart(SHEET, "r", "a").regions[0]?.parts?.map(({ id }) => id)).toEqual(["b"]);
  });

  it("sets an adjustment on one side of one pass", () => {
    const made = setAdjustment(SHEET, "q", "inside", "exposure", { amount: -1 });
    expect(made.passes[1]?.inside).toEqual({ exposure: { amount: -1 } });
    expect(made.passes[0]).toBe(SHEET.passes[0]);
    expect(JSON.stringify(SHEET)).toBe(FROZEN);
  });
});
