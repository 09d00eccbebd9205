/** Further places like a region, each added by one press. */

import { usePictureUrl } from "../api/usePictureUrl";
import { Missing } from "../ui/Missing";
import { useEffect, useState } from "react";
import { type Place, type Region, type Shot } from "../api/client";
import { NOTHING } from "../api/draft";
import { PLAIN_VIEW } from "../api/pictures";
import { beginDrawn } from "../bench/begin";
import { furtherPlaces } from "../bench/sampling";
import { pointOut, useBench } from "../bench/store";
import { withLower } from "../document/edit";
import { Button } from "../ui/Button";
import { Say } from "../ui/Words";

const WIDTH = 84;
const HEIGHT = 56;
/** Room round a place, so that it is seen where it lies. */
const ROUND = 0.5;
const FEATHER = { feather_in: 0.004, feather_out: 0.012 };

type Props = { readonly region: Region; readonly shot: Shot };

export function Alike({ region, shot }: Props) {
  const places = useFurther(region);
  if (!places) return <Say>One moment…</Say>;
  if (places.length === 0) return <Say>No other place has the colour and the light of this region.</Say>;
  const add = async (place: Place) => {
    const draw = { kind: "draw", part: "curve", region: region.id, join: "add", pass: null } as const;
    const { selection: choice } = useBench.getState();
    await beginDrawn({ ...draw, pass: choice.kind === "where" ? choice.pass : null }, FEATHER, place.outline, true);
    useBench.setState({ regionTab: "alike" });
  };
  return (
    <div className="flex gap-3.5 pt-0.5 pr-1 pb-2 pl-3.5 overflow-x-auto min-w-0 items-start" role="list" aria-label="Further places like this">
      {places.map((place) => (
        <div key={place.box.join(" ")} className="flex flex-none flex-col items-start gap-1 text-label font-medium whitespace-nowrap text-ink-2" role="listitem">
          <Thumb {...{ shot, place }} />
          <span>{(place.area * 100).toFixed(2)} %</span>
          <Button title="Joins an ellipse or outline of that place to the region" onClick={() => void add(place)}>
            add it
          </Button>
        </div>
      ))}
    </div>
  );
}

function useFurther(region: Region): readonly Place[] | null {
  const sheet = useBench((state) => state.sheet);
  const moving = useBench((state) => state.dragging);
  const key = JSON.stringify(withLower(sheet, region));
  const [places, setPlaces] = useState<readonly Place[] | null>(null);
  useEffect(() => {
    if (moving || !key) return;
    let gone = false;
    void furtherPlaces(region.id).then((made) => !gone && setPlaces(made ?? []));
    return () => {
      gone = true;
    };
  }, [key, moving, region.id]);
  return places;
}

function Thumb({ shot, place }: { readonly shot: Shot; readonly place: Place }) {
  const at = useBench((state) => state.at);
  const [left = 0, top = 0, wide = 0, high = 0] = place.box;
  const { url, failed } = usePictureUrl(at, `place ${place.box.join(" ")}`, () => {
    const width = Math.min(Math.max(wide, (high * WIDTH) / HEIGHT, 0.04) * (1 + 2 * ROUND) * shot.height, shot.width);
    const height = Math.min((width * HEIGHT) / WIDTH, shot.height);
    const x = Math.min(Math.max((left + wide / 2) * shot.height - width / 2, 0), shot.width - width);
    const y = Math.min(Math.max((top + high / 2) * shot.height - height / 2, 0), shot.height - height);
    const scale = Math.min((2 * WIDTH) / width, 1);
    return { sheet: NOTHING, view: "source", rectangle: [x, y, width, height], scale, ...PLAIN_VIEW, format: "jpeg" };
  });
  const go = () => pointOut({ x: (left + wide / 2) * shot.height, y: (top + high / 2) * shot.height }, useBench.getState().zoom?.scale ?? 0.5);
  return (
    <button type="button" className="h-14 w-21 cursor-pointer border-b-2 border-ink-3 bg-field" title="Show where it is" onClick={go}>
      {url && <img className="size-full object-contain" src={url} alt="" width={WIDTH} height={HEIGHT} />}
      {failed && <Missing />}
    </button>
  );
}
