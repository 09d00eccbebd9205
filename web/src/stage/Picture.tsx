/** The canvas. It never reads a pixel. */

import { useEffect, useMemo, useRef, useState } from "react";
import { useRoom } from "../bench/room";
import { useBench } from "../bench/store";
import type { Size, Zoom } from "../document/zoom";
import { painter } from "./painter";
import { orderOf, usePicture } from "./usePicture";

type Props = { readonly zoom: Zoom; readonly stage: Size; readonly picture: Size };

export function Picture({ zoom, stage, picture }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const [brush] = useState(painter);
  const state = useBench();
  const room = useRoom();
  const order = useMemo(() => orderOf(state, zoom, stage, picture), [state, zoom, stage, picture]);
  usePicture(order, brush.show);
  useEffect(() => brush.place(canvas.current, { zoom, stage, picture, room }), [brush, zoom, stage, picture, room]);
  return (
    <canvas
      ref={canvas}
      data-picture={state.picture}
      data-view={order?.view ?? ""}
      aria-label="The picture"
      role="img"
    />
  );
}
