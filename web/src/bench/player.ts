/** What plays a clip: frames as they come, shown when they are due; loaded when something is first played. */

import type { Address, Sheet } from "../api/client";
import type { ViewOrder } from "../api/pictures";
import { Feed } from "./feed";
import { lookOf, playedScale, seenOf } from "./look";
import { showFrame, usePlayhead } from "./playhead";
import { type BenchState, useBench } from "./store";

/** So many frames are ready before it begins, and so long it waits for them. */
const READY = 8;
const PATIENCE_MS = 1500;
/** A picture so many frames late is too late: it gets coarser, and when it cannot, frames are left out. */
const LATE = 5;
const SMALLEST = 0.25;
const MOST_STEP = 8;
/** A stream is given so long to come into its stride, and what it brings first is asked for so far ahead. */
const STRIDE_MS = 900;
const AHEAD_S = 0.35;
/** A sound that stands still for so long has lost what plays it. */
const STILL_MS = 1000;
const NAMES: Readonly<Record<number, string>> = { 0.5: "half", 0.25: "a quarter of the" };

type Whole = { readonly first: number; readonly last: number };
type Clip = { readonly frames: number; readonly seconds: number; readonly sound: boolean };

/** What is played: a sheet in a view, and the source beside it where the two are held against each other. */
type Seen = { readonly sheet: Sheet; readonly look: Omit<ViewOrder, "scale">; readonly beside: boolean };

function seen(state: BenchState, turn: boolean): Seen {
  const own = lookOf(state);
  const look = state.compare === "in turn" && turn ? { ...own, view: "source" as const } : own;
  const beside = (state.compare === "wipe" && look.view !== "source") || (state.compare === "two-up" && (state.beside === null || state.beside === state.at?.shot));
  return { sheet: seenOf(state), look, beside };
}

export class Player {
  private readonly rate: number;
  private readonly scale: number;
  private readonly result: Feed;
  private readonly source: Feed;
  private seen: Seen;
  /** whether this loop shows the source, where they take turns */
  private turn = false;
  private sound: HTMLAudioElement | null = null;
  private heard = { time: 0, at: 0 };
  private silent = false;
  private coarse = 1;
  private step = 1;
  private opened = 0;
  private began = 0;
  private start = 0;
  private shown = -1;
  private leftOut = 0;
  private forget: () => void = () => {};
  private ended = false;

  constructor(
    private readonly at: Address,
    private readonly whole: Whole,
    private readonly clip: Clip,
  ) {
    this.rate = clip.frames / clip.seconds;
    this.scale = playedScale(useBench.getState());
    this.result = new Feed(at);
    this.source = new Feed(at);
    this.seen = seen(useBench.getState(), false);
  }

  async begin(from: number): Promise<void> {
    this.sound = this.clip.sound ? await soundOf(this.at).catch(() => null) : null;
    if (this.ended) return;
    this.open(from);
    await this.until(from, READY, PATIENCE_MS);
    if (this.ended) return;
    this.clock(from);
    // what is changed meanwhile shows as soon as it can
    this.forget = useBench.subscribe((state) => this.changed(state));
    requestAnimationFrame(this.tick);
  }

  private changed(state: BenchState): void {
    const now = seen(state, this.turn);
    const same = now.sheet === this.seen.sheet && now.beside === this.seen.beside && JSON.stringify(now.look) === JSON.stringify(this.seen.look);
    if (same) return;
    this.seen = now;
    this.open(Math.min(this.now() + Math.ceil(AHEAD_S * this.rate), this.whole.last));
  }

  end(): void {
    this.ended = true;
    this.forget();
    this.sound?.pause();
    this.result.end();
    this.source.end();
  }

  /** Begins the clock at a frame: the sound's where there is any. */
  private clock(from: number): void {
    this.start = from;
    this.began = performance.now();
    this.heard = { time: from / this.rate, at: this.began };
    if (this.sound) {
      this.sound.currentTime = from / this.rate;
      void this.sound.play().catch(() => {
        this.sound = null;
      });
    }
  }

  private now(): number {
    if (this.sound && this.sound.currentTime > 0 && !this.sound.ended) return Math.floor(this.sound.currentTime * this.rate + 1e-3);
    return this.start + Math.floor(((performance.now() - this.began) / 1000) * this.rate);
  }

  /** Goes on by a clock of its own where the sound stands still, as it does when the device that plays it is gone. */
  private listen(): void {
    if (!this.sound || this.sound.ended) return;
    const [time, at] = [this.sound.currentTime, performance.now()];
    if (time !== this.heard.time) this.heard = { time, at };
    if (at - this.heard.at < STILL_MS) return;
    this.start = this.now();
    this.began = at;
    this.sound.pause();
    this.sound = null;
    this.silent = true;
  }

  private open(from: number): void {
    this.opened = performance.now();
    const { sheet, look, beside } = this.seen;
    const order = { ...look, first: from, last: this.whole.last, step: this.step, scale: Math.max(this.scale * this.coarse, 0.02) };
    this.result.open(sheet, order);
    if (beside) this.source.open(sheet, { ...order, view: "source" });
    else this.source.end();
    usePlayhead.setState({ source: look.view === "source" });
  }

  /** Frames that can be shown: the source's too, where it stands beside. */
  private get ready(): readonly number[] {
    const frames = this.result.frames();
    return this.seen.beside ? frames.filter((each) => this.source.has(each)) : frames;
  }

  private async until(from: number, count: number, patience: number): Promise<void> {
    const limit = performance.now() + patience;
    const wanted = Math.min(count, this.whole.last - from + 1);
    while (!this.ended && this.ready.length < wanted && performance.now() < limit) await new Promise((resolve) => setTimeout(resolve, 15));
  }

  private readonly tick = (): void => {
    if (this.ended) return;
    this.listen();
    const frame = this.now();
    if (frame > this.whole.last || this.sound?.ended) {
      void this.again();
      return;
    }
    this.show(frame);
    const late = frame - this.newest() > LATE && performance.now() - this.opened > STRIDE_MS;
    if (late && (this.result.coming || this.source.coming)) this.coarser(frame);
    requestAnimationFrame(this.tick);
  };

  private newest(): number {
    return Math.max(this.shown, ...this.ready);
  }

  /** Shows the newest frame that is due; those that were passed over are counted. */
  private show(frame: number): void {
    const due = this.ready.filter((each) => each <= frame);
    if (due.length === 0) return;
    const newest = Math.max(...due);
    const [result, source] = [this.result.take(newest), this.source.take(newest)];
    if (newest <= this.shown) {
      result?.close();
      source?.close();
    } else {
      if (this.shown >= 0) this.leftOut += newest - this.shown - 1;
      this.shown = newest;
      if (result) showFrame("result", result);
      if (source) showFrame("source", source);
      usePlayhead.setState({ frame: newest });
    }
    this.say();
  }

  private coarser(frame: number): void {
    if (this.coarse > SMALLEST) this.coarse /= 2;
    else if (this.step < MOST_STEP) this.step *= 2;
    // ahead, so that what comes is in time
    this.open(Math.min(frame + Math.ceil(AHEAD_S * this.rate), this.whole.last));
    this.say();
  }

  private say(): void {
    const size = this.coarse < 1 ? `playing at ${NAMES[this.coarse] ?? "a smaller"} size` : "";
    const left = this.leftOut > 0 ? `${this.leftOut} ${this.leftOut === 1 ? "frame" : "frames"} left out` : "";
    const silent = this.silent ? "without its sound, which stood still" : "";
    const told = [size, left, silent].filter(Boolean).join(", ");
    const slow = told.charAt(0).toUpperCase() + told.slice(1);
    if (useBench.getState().slow !== slow) useBench.setState({ slow });
  }

  /** The next loop, at full size again: what was rendered before is there. */
  private async again(): Promise<void> {
    this.sound?.pause();
    this.result.empty();
    this.source.empty();
    this.turn = !this.turn;
    this.seen = seen(useBench.getState(), this.turn);
    this.shown = -1;
    this.leftOut = 0;
    this.coarse = 1;
    this.step = 1;
    this.open(this.whole.first);
    await this.until(this.whole.first, READY, PATIENCE_MS);
    if (this.ended) return;
    this.clock(this.whole.first);
    requestAnimationFrame(this.tick);
  }
}

const sounds = new Map<string, Promise<HTMLAudioElement>>();

/** A clip's sound, fetched whole, so that it can begin anywhere. */
function soundOf(at: Address): Promise<HTMLAudioElement> {
  const known = sounds.get(at.shot);
  if (known) return known;
  const made = (async () => {
    const response = await fetch(`/api/projects/${at.project}/shots/${at.shot}/sound`);
    if (!response.ok) throw new Error("no sound");
    const sound = new Audio(URL.createObjectURL(await response.blob()));
    sound.preload = "auto";
    return sound;
  })();
  sounds.set(at.shot, made);
  made.catch(() => sounds.delete(at.shot));
  return made;
}
