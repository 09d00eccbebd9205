/** Saying what was just done, with the way back. */

import { step } from "./saving";
import { type Done, useBench } from "./store";

const SAID_MS = 9000;
let timer: ReturnType<typeof setTimeout> | undefined;

/** Says something done, for a while; by default the shot's own undo takes it back. */
export function sayDone(says: string, undo: () => void = () => step("undo")): void {
  const done: Done = { says, undo };
  clearTimeout(timer);
  useBench.setState({ done });
  timer = setTimeout(() => useBench.getState().done === done && useBench.setState({ done: null }), SAID_MS);
}

export function takeBackDone(): void {
  const { done } = useBench.getState();
  useBench.setState({ done: null });
  done?.undo();
}
