/** What was found, where it lies: a thin box with its name, to be chosen in the tray. */

import { useBench } from "../bench/store";
import type { Point } from "../document/zoom";
import { nameOf } from "../tray/Finds";
import { Line, pathsOf } from "./lines";
import type { Frame } from "./OutlineLines";

/** A name's height, and how far it stands off its box, so that it never covers what it names. */
const CHIP = 17;
const ROOM = 2;

export function Offers({ frame }: { readonly frame: Frame }) {
  const offers = useBench((state) => state.suggestions);
  return offers.map((offer, index) => {
    const [left = 0, top = 0, width = 0, height = 0] = offer.box;
    const a = frame.place({ x: left, y: top });
    const b = frame.place({ x: left + width, y: top + height });
    const name = nameOf(offers, index);
    const wide = name.length * 6.6 + 10;
    return (
      <g key={offer.box.join(" ")} data-offer={offer.name}>
        <Line d={pathsOf([{ points: offer.outline.map(([x = 0, y = 0]) => ({ x, y })), closed: true }], frame.place)} width={1} dash="5 4" />
        <g transform={chipAt(a, b, wide)}>
          <rect width={wide} height={CHIP} rx="2" fill="oklch(.12 0 0 / .7)" />
          <text x="5" y="12.500" fill="oklch(.97 0 0)" fontSize="11">
            {name}
          </text>
        </g>
      </g>
    );
  });
}

/** Beside a low box, since others may stand above it; else above, or below where there is no room. */
function chipAt(a: Point, b: Point, wide: number): string {
  const high = b.y - a.y;
  if (high < 2 * CHIP && a.x > wide + ROOM) return `translate(${a.x - wide - ROOM} ${a.y + (high - CHIP) / 2})`;
  return `translate(${a.x} ${a.y < CHIP + ROOM ? b.y + ROOM : a.y - CHIP - ROOM})`;
}
