/** Asking the server about the shot at hand. */

import { type DraftAddress, onDraft } from "../api/draft";
import { useBench } from "./store";

function tell(error: unknown): void {
  useBench.setState({ problem: error instanceof Error ? error.message : "Something went wrong." });
}

/** Runs on the shot at hand; a refusal is told on the bench. */
export async function onShot<Data>(run: (path: { project: string; shot: string }) => Promise<Data>): Promise<Data | null> {
  const { at } = useBench.getState();
  if (!at) return null;
  try {
    return await run({ ...at });
  } catch (error) {
    tell(error);
    return null;
  }
}

/** Runs on the draft in hand; a refusal is told on the bench. */
export function onThisDraft<Data>(run: (path: DraftAddress) => Promise<Data>): Promise<Data | null> {
  const { sheet } = useBench.getState();
  return onShot((at) => onDraft(at, sheet, run));
}
