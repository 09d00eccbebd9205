/** Places on the stage and in the picture lead to each other, and zooming keeps what lies under the pointer. */

import * as fc from "fast-check";
import { expect, it } from "vitest";
import { fitted, kept, likewise, toPicture, toStage, type Zoom, zoomedAt } from "./zoom";

const length = fc.double({ min: -2000, max: 4000, noNaN: true });
const point = fc.record({ x: length, y: length });
const size = fc.record({ width: fc.integer({ min: 40, max: 8000 }), height: fc.integer({ min: 40, max: 8000 }) });
const zoom: fc.Arbitrary<Zoom> = fc.record({ scale: fc.double({ min: 0.02, max: 16, noNaN: true }), x: length, y: length });

const near = (one: number, other: number) => expect(Math.abs(one - other)).toBeLessThan(1e-6 * Math.max(1, Math.abs(other)) + 1e-6);

it("leads from the picture to the stage and back", () => {
  fc.assert(
    fc.property(zoom, point, (at, place) => {
      const back = toPicture(at, toStage(at, place));
      near(back.x, place.x);
      near(back.y, place.y);
    }),
  );
});

it("keeps what lies under the pointer", () => {
  fc.assert(
    fc.property(zoom, point, fc.double({ min: 0.5, max: 2, noNaN: true }), (at, pointer, factor) => {
      const [before, after] = [toPicture(at, pointer), toPicture(zoomedAt(at, factor, pointer), pointer)];
      near(before.x, after.x);
      near(before.y, after.y);
    }),
  );
});

it("fits the whole picture into the stage", () => {
  fc.assert(
    fc.property(size, size, (stage, picture) => {
      const at = fitted(stage, picture);
      fc.pre(at.scale > 0.01);
      const [first, last] = [toStage(at, { x: 0, y: 0 }), toStage(at, { x: picture.width, y: picture.height })];
      expect(Math.min(first.x, first.y)).toBeGreaterThanOrEqual(-1e-6);
      expect(last.x).toBeLessThanOrEqual(stage.width + 1e-6);
      expect(last.y).toBeLessThanOrEqual(stage.height + 1e-6);
    }),
  );
});

it("never lets the picture out of sight", () => {
  fc.assert(
    fc.property(zoom, size, size, (at, stage, picture) => {
      const held = kept(at, stage, picture);
      const [first, last] = [toStage(held, { x: 0, y: 0 }), toStage(held, { x: picture.width, y: picture.height })];
      expect(first.x).toBeLessThan(stage.width);
      expect(first.y).toBeLessThan(stage.height);
      expect(last.x).toBeGreaterThan(0);
      expect(last.y).toBeGreaterThan(0);
    }),
  );
});

it("shows the same share of another picture beside it", () => {
  fc.assert(
    fc.property(zoom, size, (at, picture) => {
      const other = likewise(at, picture, picture);
      near(other.scale, at.scale);
      near(other.x, at.x);
      near(other.y, at.y);
    }),
  );
});
