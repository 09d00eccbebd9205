/** The shelf: named regions as small openwork cards. */

import { useEffect, useState } from "react";
import { fetchPreviewUrl, type Region, type Shot } from "../api/client";
import { beginDrawing } from "../bench/begin";
import { change } from "../bench/saving";
import { choose, NOTHING, useBench } from "../bench/store";
import { duplicateRegion, passesUsing, removeRegion, usedBy } from "../document/edit";
import { Hatch } from "../marks/marks";

const CARD_WIDTH = 66;

export function Shelf({ shot }: { readonly shot: Shot }) {
  const sheet = useBench((state) => state.sheet);
  const choice = useBench((state) => state.choice);
  const chosen = choice.kind === "where" ? choice.region : null;
  const spare = chosen !== null && passesUsing(sheet, chosen).length === 0;
  return (
    <section className="shelf" aria-label="Shelf">
      <div className="title">
        Shelf
        <span className="acts">
          {chosen && (
            <button type="button" className="plain" onClick={() => copy(chosen)}>
              duplicate
            </button>
          )}
          {spare && (
            <button type="button" className="plain" onClick={() => drop(chosen)}>
              remove spare
            </button>
          )}
          <button type="button" className="plain" onClick={() => beginDrawing(null, "add")}>
            + region
          </button>
        </span>
      </div>
      <div className="cards">
        {sheet.regions.map((region) => (
          <Card key={region.id} {...{ region, shot }} used={usedBy(sheet, region.id)} chosen={region.id === chosen} />
        ))}
      </div>
      {sheet.regions.length === 0 && <div style={{ height: 2, background: "var(--ink-3)", margin: "0 -8px" }} />}
    </section>
  );
}

function copy(region: string): void {
  const made = duplicateRegion(useBench.getState().sheet, region);
  change(made.sheet, "duplicate a region");
  choose({ kind: "where", pass: null, region: made.id, part: null });
}

function drop(region: string): void {
  choose(NOTHING);
  change(removeRegion(useBench.getState().sheet, region), "remove a region");
}

type CardProps = { readonly region: Region; readonly shot: Shot; readonly used: string; readonly chosen: boolean };

function Card({ region, shot, used, chosen }: CardProps) {
  const url = useMatteUrl(region, shot);
  const pick = () => {
    const first = passesUsing(useBench.getState().sheet, region.id)[0];
    choose({ kind: "where", pass: first?.id ?? null, region: region.id, part: null });
  };
  const mask = url ? { maskImage: `url(${url})` } : { display: "none" };
  return (
    <button type="button" className={`card${chosen ? " chosen" : ""}`} aria-pressed={chosen} onClick={pick}>
      <span className="matte">
        <Hatch pitch={6} width={0.8} colour="var(--ink-3)" />
        <i style={{ ...mask, background: "var(--field)" }} />
        <i style={{ ...mask, background: "var(--ink)", opacity: 0.92 }} />
      </span>
      <span className="name">{region.name}</span>
      <small>{used}</small>
    </button>
  );
}

/** A small matte of a region, made anew when the region has come to rest. */
function useMatteUrl(region: Region, shot: Shot): string | null {
  const at = useBench((state) => state.at);
  const moving = useBench((state) => state.moving);
  const [url, setUrl] = useState<string | null>(null);
  useEffect(() => {
    if (!at || moving) return;
    let gone = false;
    const order = {
      sheet: { version: 1, regions: [region], passes: [] } as never,
      view: "matte" as const,
      rectangle: [0, 0, shot.width, shot.height] as [number, number, number, number],
      scale: (2 * CARD_WIDTH) / shot.width,
      region: region.id,
      ground: "grey" as const,
      draft: false,
      format: "png" as const,
    };
    fetchPreviewUrl(at, order)
      .then((made) => (gone ? URL.revokeObjectURL(made) : setUrl(made)))
      .catch(() => setUrl(null));
    return () => {
      gone = true;
    };
  }, [at, region, shot, moving]);
  useEffect(() => () => void (url && URL.revokeObjectURL(url)), [url]);
  return url;
}
