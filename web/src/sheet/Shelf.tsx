/** The shelf: named regions as small openwork cards. */

import { type Made, usePictureUrl } from "../api/usePictureUrl";
import { Missing } from "../ui/Missing";
import { type Region, type Shot } from "../api/client";
import { NOTHING } from "../api/draft";
import { PLAIN_VIEW } from "../api/pictures";
import { beginDrawing } from "../bench/begin";
import { useBench, select } from "../bench/store";
import { passesUsing, usedBy, withLower } from "../document/edit";
import { Hatch } from "../icons/icons";
import { RegionVerbs } from "./RegionVerbs";
import { Button } from "../ui/Button";

const CARD_WIDTH = 66;

export function Shelf({ shot }: { readonly shot: Shot }) {
  const sheet = useBench((state) => state.sheet);
  const choice = useBench((state) => state.selection);
  const chosen = choice.kind === "where" ? choice.region : null;
  return (
    <section className="flex-none px-5 pt-2 pb-3.5" aria-label="Shelf">
      <div className="mb-2 flex items-center font-semibold">
        Shelf
        <span className="-my-1 -mr-2.5 ml-auto flex">
          <Button look="quiet" className="px-2.25" onClick={() => beginDrawing(null, "add")}>
            + region
          </Button>
        </span>
      </div>
      {chosen && <RegionVerbs region={chosen} shot={shot} />}
      <div className="grid grid-cols-[repeat(4,66px)] justify-between items-start gap-y-2 max-h-47.5 overflow-y-auto pt-1 px-3 pb-0 -mt-1 -mx-3 mb-0">
        {sheet.regions.map((region) => (
          <Card key={region.id} {...{ region, shot }} used={usedBy(sheet, region.id)} chosen={region.id === chosen} />
        ))}
      </div>
      {sheet.regions.length === 0 && <div className="-mx-2 h-0.5 bg-ink-3" />}
    </section>
  );
}

const MASKED = "absolute inset-0 size-full mask-luminance mask-size-[100%_100%]";

type CardProps = { readonly region: Region; readonly shot: Shot; readonly used: string; readonly chosen: boolean };

function Card({ region, shot, used, chosen }: CardProps) {
  const { url, failed } = useMatteUrl(region, shot);
  const pick = () => {
    const first = passesUsing(useBench.getState().sheet, region.id)[0];
    select({ kind: "where", pass: first?.id ?? null, region: region.id, part: null });
  };
  const mask = url ? { maskImage: `url(${url})` } : { display: "none" };
  return (
    <button type="button" className="group block w-16.5" data-region={region.id} aria-pressed={chosen} onClick={pick}>
      <span className="relative block h-11 w-16.5 overflow-hidden rounded-t-[2px] border-b-2 border-ink-3 bg-field group-aria-pressed:outline-2 group-aria-pressed:outline-mark-line [&>svg]:absolute [&>svg]:inset-0 [&>svg]:size-full">
        <Hatch pitch={6} width={0.8} colour="var(--color-ink-3)" />
        <i className={`${MASKED} bg-field`} style={mask} />
        <i className={`${MASKED} bg-ink opacity-92`} style={mask} />
        {failed && <Missing />}
      </span>
      <span className="mt-1.25 block text-label font-medium text-ink wrap-anywhere">{region.name}</span>
      <small className="block text-note font-medium text-ink-3">{used}</small>
    </button>
  );
}

/** A small matte of a region, made anew when the region, or one it stands on, has come to rest, and the picture is there. */
function useMatteUrl(region: Region, shot: Shot): Made {
  const at = useBench((state) => state.at);
  const moving = useBench((state) => state.dragging || state.playing || state.picture === "loading" || state.picture === "coarse");
  // one that follows is another in each frame
  const frame = useBench((state) => (region.track ? state.frame : null));
  const refining = useBench((state) => state.refining === "yes");
  const sheet = useBench((state) => state.sheet);
  const regions = withLower(sheet, region);
  // a card made of a coarse matte is made again when it is fine
  const key = `matte ${region.id} ${frame} ${refining} ${JSON.stringify(regions)}`;
  return usePictureUrl(at, moving ? null : key, () => ({
    sheet: { ...NOTHING, regions: [...regions] },
    view: "matte",
    rectangle: [0, 0, shot.width, shot.height],
    scale: (2 * CARD_WIDTH) / shot.width,
    region: region.id,
    ...PLAIN_VIEW,
    format: "png",
  }));
}
