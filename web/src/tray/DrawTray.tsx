/** The tray while a new part is drawn: which kind, and how. */

import type { Catalogue, PartKind } from "../api/client";
import { beginDrawn } from "../bench/begin";
import { useDrawingKeys } from "../bench/drawingKeys";
import { importMatte, importOutlines } from "../bench/regions";
import { beginSampled } from "../bench/sampling";
import { select, useBench } from "../bench/store";
import { Glyph } from "../icons/icons";
import type { Draw } from "../bench/begin";
import { FileWord } from "./FileWord";
import { Finds } from "./Finds";
import { kindOf } from "./values";
import { Choice } from "../ui/Choice";
import { Say, WordLine } from "../ui/Words";
import { Select } from "../ui/Field";

const HOW: Readonly<Record<PartKind["drawn"], string>> = {
  "": "",
  corners:
    "Drag from corner to corner, or scribble once round a thing and one is laid round it. Alt draws from the centre, Shift keeps both sides alike, Ctrl snaps to the frame. Enter puts one in the middle.",
  axis: "Drag from where it is full to where there is none of it. Shift keeps to 15° steps. Enter lays one over the middle.",
  path:
    "Drag along the edge by hand; it closes where you let go, and few points follow it. Or press point by point: smooth ones, with Alt corners; the first point, a double press or Enter closes it.",
  strokes:
    "Paint with the pen or the mouse; A held and a drag sets size and hardness. Then Shift goes on straight, and comma and point change the size.",
  marks:
    "Draw loosely once round the subject, or a short stroke on it; more strokes on it and on its surround correct what is found.",
  sample: "Press a place in the picture, or drag a box over it, and the range is set from there. Enter begins without.",
  points: "Press for each corner. The first corner, a double press or Enter closes it; Backspace takes the last one back.",
};

/** What Enter begins with nothing drawn. */
const BEGUN: Partial<Record<PartKind["drawn"], (draw: Draw) => Promise<unknown>>> = {
  corners: (draw) => beginDrawn(draw, {}, []),
  axis: (draw) => beginDrawn(draw, {}, []),
  sample: (draw) => beginSampled(draw, null),
};

/** What can be a part without being drawn: another region, a picture, outlines from a file. */
function Others({ draw }: { readonly draw: Draw }) {
  const regions = useBench((state) => state.sheet.regions);
  const others = regions.filter((each) => each.id !== draw.region);
  return (
    <WordLine className="mt-1 items-center">
      Or take
      {others.length > 0 && (
        <Select
          size="small"
          aria-label="Another region"
          value=""
          onChange={(event) => void beginDrawn({ ...draw, part: "region" }, { region: event.currentTarget.value }, [])}
        >
          <option value="" disabled>
            another region…
          </option>
          {others.map((each) => (
            <option key={each.id} value={each.id}>
              {each.name}
            </option>
          ))}
        </Select>
      )}
      <FileWord name="a picture as matte…" accept="image/*,.exr" onFile={(file) => void importMatte(draw, file)} />
      <FileWord name="outlines of an SVG file…" accept=".svg,image/svg+xml" onFile={(file) => void importOutlines(draw, file)} />
    </WordLine>
  );
}

/** What keeping within a part does, where the pass in hand works on what is outside. */
function shrinks({ pass, region }: Draw): string {
  const works = useBench.getState().sheet.passes.find((each) => each.id === pass || each.region === region);
  return works && Object.keys(works.outside ?? {}).length > 0 ? ` (what is outside grows, and “${works.name}” with it)` : "";
}

const VERB = { add: "Add to", subtract: "Subtract from", intersect: "Keep within" } as const;

type Props = { readonly catalogue: Catalogue; readonly draw: Draw; readonly region: string | undefined };

function Named({ glyph, name }: { readonly glyph: string; readonly name: string }) {
  return (
    <>
      <Glyph path={glyph} />
      <span>{name.toLowerCase()}</span>
    </>
  );
}

export function DrawTray({ catalogue, draw, region }: Props) {
  const kind = kindOf(catalogue, draw.part);
  // what was found takes the row to itself
  const offered = useBench((state) => state.suggestions.length > 0);
  // heard where it is said; of what goes point by point the stage knows what it closes
  const begin = kind && BEGUN[kind.drawn];
  useDrawingKeys(begin ? { Enter: () => void begin(draw) } : {});
  return (
    <div className="max-w-220">
      <Choice
        label="Kind of part"
        look="plain"
        className="flex flex-wrap items-baseline gap-x-3.5 gap-y-0.5 font-book text-[15px] leading-6.25 font-normal"
        lead={region ? `${VERB[draw.join]} ${region}${draw.join === "intersect" ? shrinks(draw) : ""}: ` : "A new region: "}
        itemClass="where data-selected:mx-px data-selected:shadow-[inset_0_0_0_1.5px_var(--color-mark-line)]"
        options={catalogue.parts.filter((each) => each.drawn).map((each) => ({ id: each.id, name: <Named {...each} /> }))}
        value={draw.part}
        onChange={(part) => select({ ...draw, part })}
      />
      <div className="flex gap-y-0 gap-x-5.5 flex-wrap">
        {!offered && <Others draw={draw} />}
        <Finds draw={draw} />
      </div>
      <Say className="mt-1">
        {kind?.says} {kind && HOW[kind.drawn]} Esc leaves.
      </Say>
    </div>
  );
}
