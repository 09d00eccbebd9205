/** What was found, where it lies: a thin box with its name, to be chosen in the tray; unbroken where it looks private. */

import { useBench } from "../bench/store";
import type { Point } from "../document/zoom";
import { nameOf } from "../tray/Finds";
import { Line, pathsOf } from "./lines";
import type { Frame } from "./OutlineLines";

/** A name's height, and how far it stands off its box, so that it never covers what it names. */
const CHIP = 17;
const ROOM = 2;
const ORIGIN = { x: 0, y: 0 };

export function Offers({ frame }: { readonly frame: Frame }) {
  const offers = useBench((state) => state.suggestions);
  return offers.map((offer, index) => {
    const corners = offer.outline.map(([x = 0, y = 0]) => frame.place({ x, y }));
    const name = nameOf(offers, index);
    const wide = name.length * 6.6 + 10;
    return (
      <g key={offer.box.join(" ")} data-offer={offer.name}>
        <Line d={pathsOf([{ points: corners, closed: true }], (corner) => corner)} width={1} dash={offer.private ? undefined : "5 4"} />
        {/* what a line says stands there already */}
        {offer.reads === "" && (
          <g transform={chipAt(corners, wide)}>
            <rect width={wide} height={CHIP} rx="2" fill="oklch(.12 0 0 / .7)" />
            <text x="5" y="12.500" fill="oklch(.97 0 0)" fontSize="11">
              {name}
            </text>
          </g>
        )}
      </g>
    );
  });
}

/** Beside the left end of a low thing, since others may stand above it; else above, or below where there is no room. */
function chipAt(corners: readonly Point[], wide: number): string {
  const [a = ORIGIN, b = ORIGIN, ...others] = corners.toSorted((one, other) => one.x - other.x);
  if (Math.hypot(a.x - b.x, a.y - b.y) < 2 * CHIP && a.x > wide + ROOM) return `translate(${a.x - wide - ROOM} ${(a.y + b.y - CHIP) / 2})`;
  const heights = [a, b, ...others].map((corner) => corner.y);
  const top = Math.min(...heights);
  return `translate(${a.x} ${top < CHIP + ROOM ? Math.max(...heights) + ROOM : top - CHIP - ROOM})`;
}
