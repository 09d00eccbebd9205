/** A clip that plays on its card, without sound, as long as the hand rests there. */

import { useEffect, useRef } from "react";
import { type Address, api, asked, type Clip, type Shot } from "../api/client";
import { PLAIN_LOOK } from "../api/pictures";
import { Feed } from "../bench/feed";

/** A card shows so many pictures a second at most, this wide. */
const RATE = 12;
const WIDE = 320;
const READY = 4;

type Props = { readonly at: Address; readonly shot: Shot; readonly clip: Clip };

export function PlayingCard({ at: { project, shot: id }, shot, clip }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const feed = new Feed({ project, shot: id });
    let ended = false;
    void run(feed, { project, shot: id }, shot.width, clip, () => (ended ? null : canvas.current)).catch(() => undefined);
    return () => {
      ended = true;
      feed.end();
    };
  }, [project, id, shot.width, clip]);
  return <canvas ref={canvas} className="absolute inset-0 block size-full object-contain" aria-hidden data-plays={shot.name} />;
}

async function run(feed: Feed, at: Address, width: number, clip: Clip, target: () => HTMLCanvasElement | null): Promise<void> {
  const { sheet } = await asked(api.GET("/api/projects/{project}/shots/{shot}/bench", { params: { path: at } }));
  const rate = clip.frames / clip.seconds;
  const step = Math.min(8, Math.max(1, Math.ceil(rate / RATE)));
  const last = clip.frames - 1;
  const order = { ...PLAIN_LOOK, scale: Math.min(1, (WIDE * window.devicePixelRatio) / width), first: 0, last, step };
  while (target()) {
    feed.open(sheet, order);
    await until(() => !target() || feed.count >= READY || !feed.coming);
    const began = performance.now();
    for (let due = 0; due <= last && target(); due = Math.floor(((performance.now() - began) / 1000) * rate)) {
      const frame = feed.frames().filter((each) => each <= due).at(-1);
      const bitmap = frame === undefined ? undefined : feed.take(frame);
      if (bitmap) draw(target(), bitmap);
      await new Promise(requestAnimationFrame);
    }
    feed.empty();
  }
}

function draw(canvas: HTMLCanvasElement | null, bitmap: ImageBitmap): void {
  if (canvas) {
    if (canvas.width !== bitmap.width) canvas.width = bitmap.width;
    if (canvas.height !== bitmap.height) canvas.height = bitmap.height;
    canvas.getContext("2d")?.drawImage(bitmap, 0, 0);
    canvas.dataset.drawn = String(Number(canvas.dataset.drawn ?? 0) + 1);
  }
  bitmap.close();
}

async function until(holds: () => boolean): Promise<void> {
  while (!holds()) await new Promise((resolve) => setTimeout(resolve, 30));
}
