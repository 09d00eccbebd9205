/** The picture at 0, ¼, ½, 1 and 2 × of the value in hand, side by side; a press takes one. */

import { usePictureUrl } from "../api/usePictureUrl";
import { Missing } from "../ui/Missing";
import type { Catalogue, Sheet, Shot } from "../api/client";
import { PLAIN_VIEW } from "../api/pictures";
import { change } from "../bench/saving";
import { useBench } from "../bench/store";
import { clamp, show, stepped } from "../document/numbers";
import { valueInHand } from "../tray/inHand";
import { Strip } from "./Strip";

const SHARES = [
  [0, "none"],
  [0.25, "¼"],
  [0.5, "½"],
  [1, "as it is"],
  [2, "2 ×"],
] as const;
const GAP = 12;
const HEIGHT = 150;
/** room at both sides of the strip */
const SIDES = 46;

type Props = { readonly shot: Shot; readonly catalogue: Catalogue };
export function Variants({ shot, catalogue }: Props) {
  const sheet = useBench((state) => state.sheet);
  const choice = useBench((state) => state.selection);
  const stage = useBench((state) => state.stage);
  const held = valueInHand(sheet, choice, catalogue);
  const wide = Math.floor(((stage?.width ?? 900) - SIDES - GAP * (SHARES.length - 1)) / SHARES.length);
  const width = Math.min(wide, Math.floor((HEIGHT * shot.width) / shot.height));
  const values = held
    ? SHARES.map(([share]) => {
        const { neutral, parameter, value } = held;
        return clamp(stepped(neutral + (value - neutral) * share, parameter.step / 10), parameter.floor, parameter.ceiling);
      })
    : [];
  return (
    <Strip
      label="Variants"
      name={held ? `Variants of ${held.parameter.name.toLowerCase()}` : "Variants"}
      says={held ? "press one to take it" : "Press a word in the sheet to see its variants."}
    >
      {held && (
        <div className="flex gap-3 pt-0.5 pb-1">
          {SHARES.map(([share, name], index) => {
            const value = values[index] ?? 0;
            const shown = show(value, held.parameter, shot);
            return (
              <button
                key={share}
                type="button"
                className="group text-center text-label font-medium text-ink-2 [&>i]:block [&>i]:bg-field"
                aria-pressed={share === 1}
                onClick={() => share !== 1 && change(held.put(value), held.parameter.name.toLowerCase())}
              >
                <VariantPicture sheet={held.put(value)} {...{ shot, width }} />
                <span className="block pt-1">
                  {name} <b className="font-semibold text-ink">{`${shown.digits} ${shown.unit}`.trim()}</b>
                </span>
              </button>
            );
          })}
        </div>
      )}
    </Strip>
  );
}

type PictureProps = { readonly sheet: Sheet; readonly shot: Shot; readonly width: number };

/** The picture with one of the values. */
function VariantPicture({ sheet, shot, width }: PictureProps) {
  const at = useBench((state) => state.at);
  const moving = useBench((state) => state.dragging);
  const key = moving || width < 20 ? null : `variant ${width} ${JSON.stringify(sheet)}`;
  const { url, failed } = usePictureUrl(at, key, () => ({
    ...PLAIN_VIEW,
    sheet,
    view: "picture",
    rectangle: [0, 0, shot.width, shot.height],
    scale: Math.min((width * 1.25) / shot.width, 1),
    format: "jpeg",
  }));
  const height = Math.round((width * shot.height) / shot.width);
  if (url) return <img className="block bg-field outline-offset-1 outline-mark-line group-aria-pressed:outline-2" src={url} alt="" width={width} height={height} />;
  return <i style={{ width, height }}>{failed && <Missing />}</i>;
}
