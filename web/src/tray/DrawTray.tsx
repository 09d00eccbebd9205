/** The tray while a new part is drawn: which kind, and how. */

import type { Catalogue } from "../api/client";
import { choose } from "../bench/store";
import { Glyph } from "../marks/marks";
import type { Draw } from "../stage/Drawing";
import { kindOf } from "./values";

const HOW: Readonly<Record<string, string>> = {
  ellipse: "Drag on the picture from corner to corner. Alt draws from the centre, Shift keeps it round. Enter puts one in the middle.",
  rectangle:
    "Drag on the picture from corner to corner. Alt draws from the centre, Shift keeps it square. Enter puts one in the middle.",
  gradient: "Drag from where it is full to where there is none of it. Shift keeps to 15° steps. Enter lays one over the middle.",
  curve:
    "Drag along the edge by hand; it closes where you let go, and few points follow it. Enter puts a round one in the middle.",
  points: "Press for each corner. The first corner, a double press or Enter closes it; Backspace takes the last one back.",
};

const VERB = { add: "Add to", subtract: "Subtract from", intersect: "Keep within" } as const;

type Props = { readonly catalogue: Catalogue; readonly draw: Draw; readonly region: string | undefined };

export function DrawTray({ catalogue, draw, region }: Props) {
  const kind = kindOf(catalogue, draw.part);
  return (
    <div className="drawing">
      <div className="parts" role="radiogroup" aria-label="Kind of part">
        {region ? `${VERB[draw.join]} ${region}: ` : "A new region: "}
        {catalogue.parts
          .filter((each) => each.handles)
          .map((each) => (
            <button
              key={each.id}
              type="button"
              role="radio"
              aria-checked={each.id === draw.part}
              className={`where${each.id === draw.part ? " part" : ""}`}
              onClick={() => choose({ ...draw, part: each.id })}
            >
              <Glyph name={each.glyph} />
              <span>{each.name.toLowerCase()}</span>
            </button>
          ))}
      </div>
      <p className="say">
        {kind?.says} {HOW[kind?.handles ?? ""]} Esc leaves.
      </p>
    </div>
  );
}
