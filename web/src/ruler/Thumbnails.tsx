/** Finished frames in a row, evenly spaced over the clip; never what a cover hides. */

import { keepPreviousData, useQuery } from "@tanstack/react-query";
import type { Shot } from "../api/client";
import { fetchStripUrl } from "../api/pictures";
import { useBench } from "../bench/store";

const HEIGHT = 41;
const SIDE = 73;

type Props = { readonly shot: Shot; readonly width: number };

export function Thumbnails({ shot, width }: Props) {
  const at = useBench((state) => state.at);
  const revision = useBench((state) => state.saved?.revision ?? null);
  const count = Math.min(Math.max(Math.round(width / SIDE), 1), 60);
  const { data, isError } = useQuery({
    queryKey: ["strip", shot.id, revision, count, width > 0],
    queryFn: () => {
      const { at: where, sheet } = useBench.getState();
      const wide = Math.min(Math.max(Math.round((width / count) * window.devicePixelRatio), 16), 400);
      return where ? fetchStripUrl(where, sheet, { count, height: Math.round(HEIGHT * window.devicePixelRatio), width: wide }) : null;
    },
    enabled: at?.shot === shot.id && revision !== null && width > 0,
    placeholderData: keepPreviousData,
    staleTime: Infinity,
    retry: false,
  });
  return (
    <div className="row-start-2 overflow-hidden bg-field" data-thumbnails={data ? "shown" : "waiting"}>
      {data && <img src={data} alt="" draggable={false} className="block size-full object-fill" />}
      {isError && <span className="px-2 leading-10 text-ink-3">The thumbnails could not be made.</span>}
    </div>
  );
}
