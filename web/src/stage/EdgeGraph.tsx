/** A profile across the edge: the matte, and the light before and after, from inside at the left to outside. */

import { useEffect, useState } from "react";
import { type Address, type Sheet, api, asked, type EdgeProfile } from "../api/client";
import { DRAFT, onDraft } from "../api/draft";
import { latest } from "../bench/latest";
import { useBench } from "../bench/store";
import type { Point } from "../document/zoom";

const WIDTH = 180;
const HEIGHT = 96;

type Props = { readonly region: string; readonly at: Point | null; readonly reach: number };
type Order = { readonly at: Address; readonly sheet: Sheet; readonly query: { region: string; x: number; y: number; reach: number } };

export function EdgeGraph({ region, at, reach }: Props) {
  const profile = useProfile(region, at, reach);
  const line = (values: readonly number[]) =>
    values
      .map((value, k) => `${((k / (values.length - 1)) * WIDTH).toFixed(1)} ${((1 - Math.min(value, 1)) * (HEIGHT - 4) + 2).toFixed(1)}`)
      .join("L");
  return (
    <figure className="edge-graph m-0">
      <svg width={WIDTH} height={HEIGHT} role="img" aria-label="Profile across the edge">
        <path d={`M${WIDTH / 2} 0V${HEIGHT}`} className="axis" />
        {profile && <path d={`M${line(profile.before)}`} className="before" />}
        {profile && <path d={`M${line(profile.after)}`} className="after" />}
        {profile && <path d={`M${line(profile.matte)}`} className="matte" />}
      </svg>
      <figcaption>
        <span className="matte">matte</span>
        <span className="before">light before</span>
        <span className="after">after</span>
        <span>±{Math.round(reach)} px</span>
      </figcaption>
    </figure>
  );
}

function useProfile(region: string, place: Point | null, reach: number): EdgeProfile | null {
  const at = useBench((state) => state.at);
  const sheet = useBench((state) => state.sheet);
  const moving = useBench((state) => state.dragging);
  const [profile, setProfile] = useState<EdgeProfile | null>(null);
  const [ask] = useState(() =>
    latest<Order>(async ({ at: here, sheet: of, query }) => {
      try {
        setProfile(await onDraft(here, of, (path) => asked(api.GET(`${DRAFT}/edge`, { params: { path, query } }))));
      } catch {
        setProfile(null);
      }
    }),
  );
  useEffect(() => {
    if (at && place && !moving) ask.want({ at, sheet, query: { region, ...place, reach } });
  }, [ask, at, sheet, moving, region, place, reach]);
  return place ? profile : null;
}
