/** Draws what the server rendered where the zoom puts it; keeps the whole picture under the sharp part. */

import { type PreviewOrder, type PreviewPicture } from "../api/pictures";
import type { Size, Zoom } from "../document/zoom";

/** `room` decides the ground round the picture. */
type Scene = { readonly zoom: Zoom; readonly stage: Size; readonly picture: Size; readonly room: string };

const SMOOTH_BELOW = 2;

export type Painter = {
  readonly place: (canvas: HTMLCanvasElement | null, scene: Scene) => void;
  readonly show: (made: PreviewPicture, of: Pick<PreviewOrder, "rectangle">) => void;
};

export function painter(): Painter {
  let canvas: HTMLCanvasElement | null = null;
  let scene: Scene | null = null;
  let whole: PreviewPicture | null = null;
  let sharp: PreviewPicture | null = null;
  let drawn = 0;
  let ground = "";

  function redraw(): void {
    if (canvas && scene) draw(canvas, scene, ground, [whole, sharp]);
  }

  function keep(made: PreviewPicture, of: Pick<PreviewOrder, "rectangle">): void {
    const [left, top, width, height] = of.rectangle;
    const all = scene && left === 0 && top === 0 && width === scene.picture.width && height === scene.picture.height;
    sharp?.bitmap.close();
    sharp = all ? null : made;
    if (!all) return;
    whole?.bitmap.close();
    whole = made;
  }

  return {
    place(element, next) {
      // reading a style lays the page out anew: once a room, not once a picture
      if (element && (next.room !== scene?.room || !ground)) ground = getComputedStyle(element).getPropertyValue("--color-ground");
      canvas = element;
      scene = next;
      redraw();
    },
    show(made, of) {
      keep(made, of);
      redraw();
      drawn += 1;
      if (canvas) canvas.dataset.drawn = String(drawn);
    },
  };
}

function draw(canvas: HTMLCanvasElement, scene: Scene, ground: string, layers: readonly (PreviewPicture | null)[]): void {
  const { zoom, stage, picture } = scene;
  const context = canvas.getContext("2d", { alpha: false });
  if (!context) return;
  const ratio = window.devicePixelRatio;
  const width = Math.round(stage.width * ratio);
  const height = Math.round(stage.height * ratio);
  if (canvas.width !== width || canvas.height !== height) {
    canvas.width = width;
    canvas.height = height;
  }
  context.fillStyle = ground;
  context.fillRect(0, 0, width, height);
  context.save();
  context.setTransform(ratio * zoom.scale, 0, 0, ratio * zoom.scale, ratio * zoom.x, ratio * zoom.y);
  context.beginPath();
  context.rect(0, 0, picture.width, picture.height);
  context.clip();
  context.imageSmoothingEnabled = zoom.scale * ratio < SMOOTH_BELOW;
  for (const layer of layers) {
    if (layer) context.drawImage(layer.bitmap, ...layer.rectangle);
  }
  context.restore();
}
