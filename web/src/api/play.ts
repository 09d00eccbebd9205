/** Frames for playing: a stream of JPEGs, each after its number and its length. */

import { type Address, api, asked, got, type Sheet } from "./client";
import { onSheet } from "./draft";
import type { ViewOrder } from "./pictures";

export type PlayOrder = ViewOrder & { readonly first: number; readonly last: number; readonly step: number };
export type FrameStream = { readonly stop: () => void; readonly done: boolean };

/** The runs of frames, first and last, that were rendered before in such a look. */
export function fetchRendered(at: Address, sheet: Sheet, look: ViewOrder): Promise<readonly (readonly number[])[]> {
  return onSheet(sheet, (draft) =>
    asked(
      api.GET("/api/projects/{project}/shots/{shot}/drafts/{draft}/rendered", {
        params: { path: { project: at.project, shot: at.shot, draft }, query: look },
      }),
    ),
  );
}

const HEAD = 8;

/** Begins a stream; `onFrame` gets each picture as it arrives. */
export function playStream(at: Address, sheet: Sheet, order: PlayOrder, onFrame: (frame: number, bitmap: ImageBitmap) => void): FrameStream {
  const control = new AbortController();
  const stream = { done: false, stop: () => control.abort() };
  const read = async () => {
    const response = await onSheet(sheet, (draft) =>
      got(`/api/projects/${at.project}/shots/${at.shot}/drafts/${draft}/play`, order, control.signal),
    );
    const reader = response.body?.getReader();
    let held = new Uint8Array(0);
    for (let piece = await reader?.read(); piece && !piece.done; piece = await reader?.read()) {
      held = joined(held, piece.value);
      for (let size = sizeOf(held); size !== null && held.length >= HEAD + size; size = sizeOf(held)) {
        const frame = new DataView(held.buffer, held.byteOffset).getUint32(0);
        const data = held.slice(HEAD, HEAD + size);
        held = held.slice(HEAD + size);
        onFrame(frame, await createImageBitmap(new Blob([data], { type: "image/jpeg" })));
      }
    }
  };
  void read()
    .catch(() => undefined)
    .finally(() => {
      stream.done = true;
    });
  return stream;
}

function sizeOf(held: Uint8Array): number | null {
  return held.length < HEAD ? null : new DataView(held.buffer, held.byteOffset).getUint32(4);
}

function joined(a: Uint8Array, b: Uint8Array): Uint8Array<ArrayBuffer> {
  const made = new Uint8Array(a.length + b.length);
  made.set(a);
  made.set(b, a.length);
  return made;
}
