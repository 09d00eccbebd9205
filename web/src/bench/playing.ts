/** Playing: frames come rendered from the server, ahead of the playhead; sound is the clock. */

import { usePlayhead } from "./playhead";
import { useBench } from "./store";
import { goTo } from "./time";

const nothing = () => {};
let stop: (() => void) | null = null;

export function togglePlaying(): void {
  if (stop) {
    stop();
    return;
  }
  const { at, clip, frame, stage, range } = useBench.getState();
  if (!at || !clip || frame === null || !stage) return;
  const whole = range ?? { first: 0, last: clip.frames - 1 };
  const from = frame >= whole.first && frame < whole.last ? frame : whole.first;
  let ended = false;
  let end: () => void = nothing;
  stop = () => {
    stop = null;
    ended = true;
    end();
    useBench.setState({ playing: false, slow: "" });
    goTo(usePlayhead.getState().frame);
  };
  usePlayhead.setState({ frame: from });
  useBench.setState({ playing: true, slow: "" });
  void import("./player").then(({ Player }) => {
    if (ended) return;
    const player = new Player(at, whole, clip);
    end = () => player.end();
    return player.begin(from);
  });
}

export function stopPlaying(): void {
  stop?.();
}
