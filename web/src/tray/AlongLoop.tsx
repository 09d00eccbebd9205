/** What lies round a region, played as a loop that stands still with it: what trembles or slips off shows at once. */

import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { api, asked, type Region } from "../api/client";
import { DRAFT, keyOf } from "../api/draft";
import { onThisDraft } from "../bench/request";
import { useBench } from "../bench/store";
import { Button } from "../ui/Button";
import { Say } from "../ui/Words";

/** Pixels of a picture on the screen. */
const SIDE = 208;

type Props = { readonly region: Region; readonly rate: number; readonly onGo: (frame: number) => void; readonly onStop: () => void };

export function AlongLoop({ region, rate, onGo, onStop }: Props) {
  const sheet = useBench((state) => state.sheet);
  const { data, error } = useQuery({
    queryKey: ["loop", region.id, keyOf({ sheet })],
    queryFn: () =>
      onThisDraft(async (path) => {
        const made = await asked(api.GET(`${DRAFT}/loop/{region}`, { params: { path: { ...path, region: region.id } } }));
        const picture = new Image();
        picture.src = `/api/projects/${path.project}/shots/${path.shot}/drafts/${path.draft}/loop/${region.id}/picture`;
        await picture.decode();
        return { ...made, picture: picture.src };
      }),
  });
  const [place, setPlace] = useState(0);
  const frames = data?.frames ?? [];
  const step = Math.max((frames[1] ?? 1) - (frames[0] ?? 0), 1);
  useEffect(() => {
    if (frames.length === 0) return;
    const timer = setInterval(() => setPlace((before) => (before + 1) % frames.length), (1000 * step) / rate);
    return () => clearInterval(timer);
  }, [frames.length, step, rate]);
  if (error) return <Say role="alert">{error.message}</Say>;
  if (!data) return <Say>The loop is made…</Say>;
  const frame = frames[place] ?? 0;
  const sure = Math.round(100 * (data.sure[place] ?? 0));
  return (
    <div className="mt-4 flex items-center gap-4">
      <div
        role="img"
        aria-label={`Loop round ${region.name}`}
        data-frame={frame}
        className="size-52 flex-none rounded-token bg-field"
        style={{ backgroundImage: `url(${data.picture})`, backgroundPosition: `${-SIDE * (place % data.row)}px ${-SIDE * Math.floor(place / data.row)}px` }}
      />
      <div className="grid justify-items-start gap-2">
        <Say look="small">
          {step === 1 ? "Every frame" : `One frame in ${step}`} in which it may show, held where the region lies, with its outline and without what covers it.
        </Say>
        <p className="text-note text-ink-2 tabular-nums">
          frame {frame}, {sure} %
        </p>
        <span className="flex gap-2.5">
          <Button onClick={() => onGo(frame)}>go to this frame</Button>
          <Button onClick={onStop}>stop the loop</Button>
        </span>
      </div>
    </div>
  );
}
