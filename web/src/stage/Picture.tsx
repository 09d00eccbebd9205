/** The canvas. It never reads a pixel. */

import { useEffect, useMemo, useRef, useState } from "react";
import type { Address, Sheet } from "../api/client";
import { onScreen, type ScreenName } from "../bench/playhead";
import { useRoom } from "../bench/theme";
import { useBench } from "../bench/store";
import type { Size, Zoom } from "../document/zoom";
import { type Painter, painter } from "./painter";
import { finishedOrderOf, orderOf, sourceOrderOf, usePicture } from "./usePicture";

type Props = { readonly zoom: Zoom; readonly stage: Size; readonly picture: Size };

export function Picture({ zoom, stage, picture }: Props) {
  const state = useBench();
  const order = useMemo(() => orderOf(state, zoom, stage, picture), [state, zoom, stage, picture]);
  const [canvas, brush] = useCanvas({ zoom, stage, picture });
  usePicture(order, brush.show, true);
  usePlayed("result", brush, picture);
  return (
    <canvas ref={canvas} data-picture={state.picture} data-view={order?.view ?? ""} aria-label="The picture" role="img" />
  );
}

/** The untouched picture at the same zoom and place; `shown` is the share of the stage, from the left, that it has. */
export function SourcePicture({ zoom, stage, picture, shown }: Props & { readonly shown: number }) {
  const playing = useBench((state) => state.playing);
  const order = useMemo(() => (playing ? null : sourceOrderOf(zoom, stage, picture)), [playing, zoom, stage, picture]);
  const [canvas, brush] = useCanvas({ zoom, stage, picture });
  usePlayed("source", brush, picture);
  usePicture(order, brush.show, false);
  const clipPath = `inset(0 ${(100 * (1 - shown)).toFixed(3)}% 0 0)`;
  return <canvas ref={canvas} className="source" style={{ clipPath }} aria-label="The source" role="img" />;
}

type OtherProps = Props & { readonly at: Address; readonly sheet: Sheet };

/** Another shot as it is done and saved. */
export function OtherPicture({ zoom, stage, picture, at, sheet }: OtherProps) {
  const order = useMemo(() => finishedOrderOf(sheet, zoom, stage, picture), [sheet, zoom, stage, picture]);
  const [canvas, brush] = useCanvas({ zoom, stage, picture });
  usePicture(order, brush.show, false, at);
  return <canvas ref={canvas} className="source" aria-label="The other shot" role="img" />;
}

/** Shows the frames that are played, each whole. */
function usePlayed(name: ScreenName, brush: Painter, { width, height }: Size) {
  useEffect(() => {
    const rectangle: [number, number, number, number] = [0, 0, width, height];
    return onScreen(name, (bitmap) => brush.show({ bitmap, rectangle, refining: "no" }, { rectangle }));
  }, [name, brush, width, height]);
}

function useCanvas({ zoom, stage, picture }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const [brush] = useState(painter);
  const room = useRoom();
  useEffect(() => brush.place(canvas.current, { zoom, stage, picture, room }), [brush, zoom, stage, picture, room]);
  return [canvas, brush] as const;
}
