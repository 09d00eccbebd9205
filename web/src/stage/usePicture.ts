/** Asks for the picture that the bench should show, and keeps what came. */

import { useEffect, useRef } from "react";
import { type Address, Refusal, type Sheet } from "../api/client";
import { keyOf, NOTHING } from "../api/draft";
import { fetchPreview, PLAIN_VIEW, type PreviewOrder, type PreviewPicture } from "../api/pictures";
import { type Latest, latest } from "../bench/latest";
import { useLatest } from "../bench/useLatest";
import { lookOf, seenOf } from "../bench/look";
import { type BenchState, useBench } from "../bench/store";
import { type Size, visible, type Zoom } from "../document/zoom";

const RETRY_MS = 1200;
/** How long after a coarse matte the fine one is asked for again. */
const REFINING_MS = 300;

type Wanted = { readonly order: PreviewOrder; readonly key: string };

/** The order for what the bench should show now; null while nothing can be shown. */
export function orderOf(state: BenchState, zoom: Zoom, stage: Size, picture: Size): PreviewOrder | null {
  const rectangle = visible(zoom, stage, picture);
  // while it plays, the frames come by themselves
  if (!rectangle || !state.saved || state.playing) return null;
  const look = lookOf(state);
  return {
    sheet: seenOf(state),
    ...look,
    rectangle: [...rectangle],
    scale: zoom.scale * window.devicePixelRatio,
    // threads of the lattice belong to the screen's pixels: a coarse one would show other threads
    coarse: false,
    draft: state.dragging && !state.still && look.view !== "lattice" && look.view !== "outline",
    format: look.view === "matte" ? "png" : "jpeg",
  };
}

/** The order for the finished picture of another shot, as it is saved. */
export function finishedOrderOf(sheet: Sheet, zoom: Zoom, stage: Size, picture: Size): PreviewOrder | null {
  const order = sourceOrderOf(zoom, stage, picture);
  return order && { ...order, sheet, view: "picture" };
}

/** The order for the untouched picture beside the result; it does not change with the sheet. */
export function sourceOrderOf(zoom: Zoom, stage: Size, picture: Size): PreviewOrder | null {
  const rectangle = visible(zoom, stage, picture);
  if (!rectangle) return null;
  const scale = zoom.scale * window.devicePixelRatio;
  return { sheet: NOTHING, view: "source", rectangle: [...rectangle], scale, ...PLAIN_VIEW, format: "jpeg" };
}

/** `told`: whether the bench says of this picture how exact it is; `of`: another shot than the one on the bench. */
export function usePicture(
  order: PreviewOrder | null,
  show: (picture: PreviewPicture, order: PreviewOrder) => void,
  told: boolean,
  of?: Address,
) {
  const here = useBench((state) => state.at);
  const at = of ?? here;
  const shown = useLatest(show);
  const asker = useRef<Latest<Wanted> | null>(null);
  const asked = useRef("");

  useEffect(() => {
    if (!at) return;
    asked.current = "";
    const made = latest<Wanted>(async ({ order: wanted, key }, signal) => {
      try {
        const picture = await fetchPreview(at, wanted, signal);
        if (signal.aborted) return;
        shown.current(picture, wanted);
        if (!told) return;
        const newest = asked.current === key;
        const failed = useBench.getState().picture === "failed";
        const { refining } = picture;
        useBench.setState({ picture: wanted.draft || !newest ? "coarse" : "exact", refining, ...(failed && { problem: "" }) });
        if (refining !== "yes" || !newest) return;
        await new Promise((resolve) => setTimeout(resolve, REFINING_MS));
        if (asked.current === key) made.want({ order: wanted, key });
      } catch (error) {
        if (signal.aborted || !told) return;
        useBench.setState({ picture: "failed", problem: error instanceof Error ? error.message : "" });
        if (!(error instanceof Refusal) || (error.status !== 0 && error.status !== 503)) return;
        await new Promise((resolve) => setTimeout(resolve, RETRY_MS));
        // nothing newer was wanted meanwhile: ask for the same again
        if (asked.current === key) made.want({ order: wanted, key });
      }
    });
    asker.current = made;
    return () => made.stop();
  }, [at, shown, told]);

  const frame = useBench((state) => state.frame);
  useEffect(() => {
    if (!order) {
      asked.current = "";
      return;
    }
    // a clip is asked at the frame where it stands
    const key = `${frame} ${keyOf(order)}`;
    if (key === asked.current) return;
    asked.current = key;
    // what shows is no longer what is wanted
    if (told && useBench.getState().picture === "exact") useBench.setState({ picture: "loading" });
    asker.current?.want({ order, key });
  }, [order, told, frame]);
}
