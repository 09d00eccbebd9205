/** Draws the outlines that it is handed and hands them back: whether they are right the core says, which has the mattes. */

import { readFileSync, writeFileSync } from "node:fs";
import { expect, it } from "vitest";
import { type Box, boxOutline } from "./box";
import { type Gradient, gradientOutline } from "./gradient";

type Wanted = { readonly beads: "box" | "axis"; readonly values: object; readonly distances: readonly number[] };

const PLAIN: readonly Wanted[] = [
  { beads: "box", values: { x: 0.7, y: 0.5, width: 0.6, height: 0.4, turn: 20, roundness: 1, feather_in: 0, feather_out: 0 }, distances: [0] },
];

it("draws what is wanted", () => {
  const file = process.env.CALADO_OUTLINES;
  const wanted = file ? (JSON.parse(readFileSync(file, "utf8")) as readonly Wanted[]) : PLAIN;
  const drawn = wanted.map(({ beads, values, distances }) => {
    const outline = beads === "box" ? boxOutline(values as Box) : gradientOutline(values as Gradient);
    return distances.map((d) => outline.parallel(d).flatMap(({ points }) => points.map(({ x, y }) => [x, y])));
  });
  for (const paths of drawn) for (const path of paths) expect(path.length).toBeGreaterThan(1);
  if (file) writeFileSync(file, JSON.stringify(drawn));
});
