/** A region that follows, frame after frame round where it lies: press one to go there, drag its ring where it belongs. */

import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { lazy, Suspense, useRef, useState } from "react";
import { mergeProps, useMove } from "react-aria";
import { useMotion } from "../api/motion";
import { api, asked, type Region, type Stop } from "../api/client";
import { DRAFT, keyOf } from "../api/draft";
import { onThisDraft } from "../bench/request";
import { change } from "../bench/saving";
import { useBench } from "../bench/store";
import { goTo } from "../bench/time";
import { setFix } from "../document/tracks";
import { Button } from "../ui/Button";
import { Dialog } from "../ui/Dialog";
import { Say } from "../ui/Words";

const AlongLoop = lazy(async () => ({ default: (await import("./AlongLoop")).AlongLoop }));

type Props = { readonly region: Region; readonly rate: number; readonly onClose: () => void };

/** Pixels of a picture on the screen. */
const SIDE = 104;

export function AlongDialog({ region, rate, onClose }: Props) {
  const [plays, setPlays] = useState(false);
  const sheet = useBench((state) => state.sheet);
  const { data } = useQuery({
    queryKey: ["along", region.id, keyOf({ sheet })],
    queryFn: () =>
      onThisDraft(async (path) => {
        const stops = await asked(api.GET(`${DRAFT}/along/{region}`, { params: { path: { ...path, region: region.id } } }));
        return { stops, at: `/api/projects/${path.project}/shots/${path.shot}/drafts/${path.draft}/along/${region.id}` };
      }),
    placeholderData: keepPreviousData,
  });
  const shape = useMotion(useBench((state) => state.at), region.track?.motion ?? null).data?.kind === "shape";
  const go = (frame: number) => {
    onClose();
    goTo(frame);
  };
  return (
    <Dialog title={`Along ${region.name}`} onClose={onClose}>
      <Say className="mt-1">
        {shape
          ? "Press a frame to go to it: marks put on it there, on the subject or on its surround, correct what was cut."
          : "Where the ring is off, drag it, or move it by the arrow keys: a correction is set there. Press a frame to go to it."}
      </Say>
      {plays && (
        <Suspense>
          <AlongLoop {...{ region, rate }} onGo={go} onStop={() => setPlays(false)} />
        </Suspense>
      )}
      {!plays && data && data.stops.length > 0 && (
        <p className="mt-2">
          <Button onClick={() => setPlays(true)}>play it as a loop</Button>
        </p>
      )}
      {data && data.stops.length === 0 && <Say>It is not to be seen where it was marked.</Say>}
      <div className="mt-4 grid grid-cols-5 gap-2.5">
        {data?.stops.map((stop) => (
          <Around key={stop.frame} {...{ stop, region, go, shape }} picture={`${data.at}/${stop.frame}`} />
        ))}
      </div>
    </Dialog>
  );
}

type AroundProps = { readonly stop: Stop; readonly region: Region; readonly picture: string; readonly shape: boolean; readonly go: (frame: number) => void };

function Around({ stop, region, picture, go, shape }: AroundProps) {
  const marked = region.track?.at === stop.frame;
  const [shift, setShift] = useState({ x: 0, y: 0 });
  const way = useRef({ x: 0, y: 0 });
  const { moveProps } = useMove({
    onMoveStart: () => {
      way.current = { x: 0, y: 0 };
    },
    onMove: ({ deltaX, deltaY }) => {
      if (marked) return;
      way.current = { x: way.current.x + deltaX, y: way.current.y + deltaY };
      setShift(way.current);
    },
    onMoveEnd: () => {
      const { x, y } = way.current;
      setShift({ x: 0, y: 0 });
      if (marked || (x === 0 && y === 0)) return;
      const { dx = 0, dy = 0 } = stop.fix;
      const fix = { ...stop.fix, dx: dx + (x / SIDE) * stop.side, dy: dy + (y / SIDE) * stop.side };
      change(setFix(useBench.getState().sheet, region.id, stop.frame, fix), `correction ${stop.frame}`);
    },
  });
  const sure = marked ? "marked here" : `${Math.round(stop.sure * 100)} %`;
  return (
    <figure className="relative">
      <button type="button" className="block cursor-pointer outline-none focus-visible:outline-2 focus-visible:outline-focus" onClick={() => go(stop.frame)} aria-label={`Go to frame ${stop.frame}`}>
        <img className="size-26 rounded-token bg-field" src={picture} width={SIDE} height={SIDE} alt={`Frame ${stop.frame}`} draggable={false} />
      </button>
      {!marked && !shape && (
        <button
          type="button"
          {...mergeProps(moveProps)}
          aria-label={`Place in frame ${stop.frame}`}
          className="absolute top-13 left-13 size-11 -translate-1/2 cursor-move touch-none rounded-full border-[1.5px] border-ink shadow-[0_0_0_1px_var(--color-casing)] outline-none focus-visible:border-focus focus-visible:outline-2 focus-visible:outline-focus"
          style={{ translate: `calc(-50% + ${shift.x}px) calc(-50% + ${shift.y}px)` }}
        />
      )}
      <figcaption className={`text-note ${stop.sure < 0.5 && !marked ? "text-ink" : "text-ink-2"}`}>
        frame {stop.frame}, {sure}
      </figcaption>
    </figure>
  );
}
