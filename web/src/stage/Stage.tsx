/** The picture on neutral grey, with the outlines and handles over it; beside it or under a line, the source. */

import { lazy, type PointerEvent, type RefObject, Suspense, useCallback, useEffect, useRef, useState } from "react";
import type { Catalogue, ProjectDetail, Shot } from "../api/client";
import { takeAt } from "../bench/lying";
import { pointAt, pointAway } from "../bench/pointer";
import { usePlayhead } from "../bench/playhead";
import { useBench } from "../bench/store";
import { type Point, type Size, toPicture } from "../document/zoom";
import { Overlay } from "./Overlay";
import { Picture, SourcePicture } from "./Picture";
import { usePanZoom } from "./usePanZoom";
import { useZoom } from "./useZoom";
import { holdValue } from "./valueDrag";
import { Tag } from "./Tag";

/** Loaded when two are looked at side by side. */
const WipeLine = lazy(async () => ({ default: (await import("./Wipe")).WipeLine }));
const Beside = lazy(async () => ({ default: (await import("./Beside")).Beside }));

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

export function Stage({ project, shot, catalogue }: Props & { readonly project: ProjectDetail }) {
  const compare = useBench((state) => state.compare);
  return (
    <div className={`grid min-h-0 min-w-0 grid-rows-1 ${compare === "two-up" ? "grid-cols-2" : "grid-cols-1"}`}>
      {compare === "two-up" && (
        <Suspense>
          <Beside {...{ project, shot }} />
        </Suspense>
      )}
      <Result {...{ shot, catalogue }} />
    </div>
  );
}

const COARSE = window.matchMedia("(hover: none)");

function Result({ shot, catalogue }: Props) {
  const element = useRef<HTMLDivElement>(null);
  const stage = useSize(element);
  const moving = useBench((state) => state.dragging);
  const alone = useBench((state) => state.fullscreen);
  const source = useBench((state) => state.source);
  const playing = useBench((state) => state.playing);
  const compare = useBench((state) => state.compare);
  const wipe = useBench((state) => state.wipe);
  const geometry = useBench((state) => state.selection.kind === "where");
  const [away, setAway] = useState(false);
  const picture: Size = { width: shot.width, height: shot.height };
  const zoom = useZoom(stage, picture);
  const origin = useCallback(() => element.current?.getBoundingClientRect() ?? new DOMRect(), []);
  const valued = useBench((state) => state.selection.kind === "what");
  const within = (at: Point) => at.x >= 0 && at.y >= 0 && at.x < picture.width && at.y < picture.height;
  const { panning, spaced, onPointerDown } = usePanZoom(
    element,
    { zoom, stage, picture },
    {
      onPress: (at) => within(at) && useBench.getState().selection.kind !== "draw" && void takeAt(at, catalogue),
      onTake: (at) => (within(at) ? holdValue(catalogue, shot) : null),
    },
  );

  const point = (event: PointerEvent<HTMLDivElement>) => {
    if (!zoom) return;
    setAway(false);
    const box = origin();
    pointAt(toPicture(zoom, { x: event.clientX - box.left, y: event.clientY - box.top }), picture);
  };
  // where a fader moves a region its outline stays on, and so it does for a finger, which never rests over anything
  const shapes = geometry && moving;
  const faded = !shapes && ((away && !COARSE.matches) || (moving && !panning && !holdsHandle()));
  const classes = ["stage", "result", panning && "panning", spaced && "spaced", valued && !spaced && "valued"].filter(Boolean).join(" ");
  return (
    <div
      ref={element}
      role="group"
      aria-label="Stage"
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
      {zoom && stage && compare === "wipe" && !source && <SourcePicture {...{ zoom, stage, picture }} shown={wipe} />}
      {zoom && stage && !alone && !source && !playing && (
        <Overlay
          {...{ stage, zoom, picture, catalogue, origin }}
          faded={faded}
        />
      )}
      {stage && compare === "wipe" && !source && (
        <Suspense>
          <WipeLine stage={stage} />
        </Suspense>
      )}
      {compare === "two-up" && <Tag className="left-3">result</Tag>}
      {compare === "in turn" && playing && <Turn />}
    </div>
  );
}

/** Which of the two this loop shows. */
function Turn() {
  const source = usePlayhead((state) => state.source);
  return <Tag className="left-3">{source ? "source" : "result"}</Tag>;
}

/** While a handle itself is held it must stay; while a fader moves the handles go. */
function holdsHandle(): boolean {
  return document.querySelector(".overlay:hover, .overlay .grab:active") !== null;
}
