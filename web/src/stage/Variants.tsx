/** The picture at 0, ¼, ½, 1 and 2 × of the value in hand, side by side; a press takes one. */

import { useEffect, useState } from "react";
import type { Catalogue, Sheet, Shot } from "../api/client";
import { fetchPreviewUrl, PLAIN_VIEW } from "../api/pictures";
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
  const urls = useVariants(held ? values.map(held.put) : [], shot, width);
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
                {urls[index] ? (
                  <img className="block bg-field outline-offset-1 outline-mark-line group-aria-pressed:outline-2" src={urls[index]} alt="" width={width} height={Math.round((width * shot.height) / shot.width)} />
                ) : (
                  <i style={{ width, height: Math.round((width * shot.height) / shot.width) }} />
                )}
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

/** Pictures of sheets, made one after the other at rest. */
function useVariants(sheets: readonly Sheet[], shot: Shot, width: number): readonly string[] {
  const at = useBench((state) => state.at);
  const moving = useBench((state) => state.dragging);
  const [urls, setUrls] = useState<readonly string[]>([]);
  const key = JSON.stringify(sheets);
  useEffect(() => {
    if (!at || moving || width < 20) return;
    let gone = false;
    const made: string[] = [];
    const load = async () => {
      for (const sheet of JSON.parse(key) as Sheet[]) {
        const order = {
          ...PLAIN_VIEW,
          sheet,
          view: "picture" as const,
          rectangle: [0, 0, shot.width, shot.height] as [number, number, number, number],
          scale: Math.min((width * 1.25) / shot.width, 1),
          format: "jpeg" as const,
        };
        const url = await fetchPreviewUrl(at, order);
        made.push(url);
        if (gone) break;
      }
      if (!gone) setUrls([...made]);
    };
    load().catch(() => undefined);
    return () => {
      gone = true;
      // those on the screen stay until the next ones are there
      setTimeout(() => made.forEach((url) => URL.revokeObjectURL(url)), 4000);
    };
  }, [at, key, moving, shot, width]);
  return urls;
}
