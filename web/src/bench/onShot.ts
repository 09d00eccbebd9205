/** Asking the server about the shot at hand. */

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

/** The sheet as it stands, as a request sends it. */
export const draft = () => useBench.getState().sheet as never;
