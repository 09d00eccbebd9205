/** The canvas. It never reads a pixel. */

import { useEffect, useMemo, useRef, useState } from "react";
import type { Address, Sheet } from "../api/client";
import { onScreen } from "../bench/playhead";
import { useRoom } from "../bench/theme";
import { useBench } from "../bench/store";
import type { Size, Zoom } from "../document/zoom";
import { painter } from "./painter";
import { finishedOrderOf, orderOf, sourceOrderOf, usePicture } from "./usePicture";

type Props = { readonly zoom: Zoom; readonly stage: Size; readonly picture: Size };

export function Picture({ zoom, stage, picture }: Props) {
  const state = useBench();
  const order = useMemo(() => orderOf(state, zoom, stage, picture), [state, zoom, stage, picture]);
  const [canvas, brush] = useCanvas({ zoom, stage, picture });
  usePicture(order, brush.show, true);
  useEffect(() => {
    const rectangle: [number, number, number, number] = [0, 0, picture.width, picture.height];
    onScreen((bitmap) => brush.show({ bitmap, rectangle, refining: "no" }, { rectangle }));
    return () => onScreen(null);
  }, [brush, picture.width, picture.height]);
  return (
    <canvas ref={canvas} data-picture={state.picture} data-view={order?.view ?? ""} aria-label="The picture" role="img" />
  );
}

/** The untouched picture at the same zoom and place; `shown` is the share of the stage, from the left, that it has. */
export function SourcePicture({ zoom, stage, picture, shown }: Props & { readonly shown: number }) {
  const order = useMemo(() => sourceOrderOf(zoom, stage, picture), [zoom, stage, picture]);
  const [canvas, brush] = useCanvas({ zoom, stage, picture });
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

function useCanvas({ zoom, stage, picture }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const [brush] = useState(painter);
  const room = useRoom();
  useEffect(() => brush.place(canvas.current, { zoom, stage, picture, room }), [brush, zoom, stage, picture, room]);
  return [canvas, brush] as const;
}
