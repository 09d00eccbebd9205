/** The picture on neutral grey, with the outlines and handles over it. */

import { type PointerEvent, type RefObject, useCallback, useEffect, useRef, useState } from "react";
import type { Catalogue, Shot } from "../api/client";
import { pointAt, pointAway } from "../bench/pointer";
import { useBench } from "../bench/store";
import { fitted, type Size, toPicture } from "../document/zoom";
import { Overlay } from "./Overlay";
import { Picture } from "./Picture";
import { useReach } from "./useReach";

type Props = { readonly shot: Shot; readonly catalogue: Catalogue };

function useSize(element: RefObject<HTMLElement | null>): Size | null {
  useEffect(() => {
    if (!element.current) return;
    const watcher = new ResizeObserver(([entry]) => {
      const box = entry?.contentRect;
      if (box) useBench.setState({ stage: { width: box.width, height: box.height } });
    });
    watcher.observe(element.current);
    return () => watcher.disconnect();
  }, [element]);
  return useBench((state) => state.stage);
}

export function Stage({ shot, catalogue }: Props) {
  const element = useRef<HTMLDivElement>(null);
  const stage = useSize(element);
  const chosenZoom = useBench((state) => state.zoom);
  const moving = useBench((state) => state.moving);
  const alone = useBench((state) => state.alone);
  const source = useBench((state) => state.source);
  const [away, setAway] = useState(false);
  const picture: Size = { width: shot.width, height: shot.height };
  const zoom = stage ? (chosenZoom ?? fitted(stage, picture)) : null;
  const origin = useCallback(() => element.current?.getBoundingClientRect() ?? new DOMRect(), []);
  const { panning, spaced, onPointerDown } = useReach(element, { zoom, stage, picture });

  const point = (event: PointerEvent<HTMLDivElement>) => {
    if (!zoom) return;
    setAway(false);
    const box = origin();
    pointAt(toPicture(zoom, { x: event.clientX - box.left, y: event.clientY - box.top }), picture);
  };
  const classes = ["stage", panning && "panning", spaced && "spaced"].filter(Boolean).join(" ");
  return (
    <div
      ref={element}
      className={classes}
      data-scale={zoom?.scale ?? 0}
      data-left={zoom?.x ?? 0}
      data-top={zoom?.y ?? 0}
      onPointerDown={onPointerDown}
      onPointerMove={point}
      onPointerLeave={() => {
        setAway(true);
        pointAway();
      }}
    >
      {zoom && stage && <Picture zoom={zoom} stage={stage} picture={picture} />}
      {zoom && stage && !alone && !source && (
        <Overlay
          {...{ stage, zoom, picture, catalogue, origin }}
          faded={away || (moving && !panning && !holdsHandle())}
        />
      )}
    </div>
  );
}

/** While a handle itself is held it must stay; while a fader moves the handles go. */
function holdsHandle(): boolean {
  return document.querySelector(".overlay:hover, .overlay .grab:active") !== null;
}
