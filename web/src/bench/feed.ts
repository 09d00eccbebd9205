/** Frames of one look at a clip, as they come from the server, until they are shown. */

import type { Address, Sheet } from "../api/client";
import { type FrameStream, type PlayOrder, playStream } from "../api/play";

export class Feed {
  private readonly ready = new Map<number, ImageBitmap>();
  private stream: FrameStream | null = null;

  constructor(private readonly at: Address) {}

  open(sheet: Sheet, order: PlayOrder): void {
    this.stream?.stop();
    const mine = playStream(this.at, sheet, order, (frame, bitmap) => {
      if (this.stream !== mine) bitmap.close();
      else this.keep(frame, bitmap);
    });
    this.stream = mine;
  }

  private keep(frame: number, bitmap: ImageBitmap): void {
    this.ready.get(frame)?.close();
    this.ready.set(frame, bitmap);
  }

  get coming(): boolean {
    return this.stream !== null && !this.stream.done;
  }

  get count(): number {
    return this.ready.size;
  }

  has(frame: number): boolean {
    return this.ready.has(frame);
  }

  frames(): readonly number[] {
    return [...this.ready.keys()];
  }

  /** Gives a frame away to be shown, and lets go of those before it. */
  take(frame: number): ImageBitmap | undefined {
    const taken = this.ready.get(frame);
    this.ready.delete(frame);
    for (const each of this.frames()) {
      if (each > frame) continue;
      this.ready.get(each)?.close();
      this.ready.delete(each);
    }
    return taken;
  }

  empty(): void {
    for (const bitmap of this.ready.values()) bitmap.close();
    this.ready.clear();
  }

  end(): void {
    this.stream?.stop();
    this.stream = null;
    this.empty();
  }
}
